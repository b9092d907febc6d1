import { build } from "esbuild";
import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { pathToFileURL } from "node:url";
import { root } from "./prepare.mjs";

/**
 * Some of the application's own modules, bundled for a bench and imported.
 *
 * @param {string[]} modules their paths below src, without an ending
 */
export async function bundled(modules) {
  const folder = fs.mkdtempSync(path.join(os.tmpdir(), "nerrit-bench-"));
  const outfile = path.join(folder, "bench.mjs");
  await build({
    stdin: {
      contents: modules.map((one) => `export * from "@/${one}";`).join("\n"),
      resolveDir: root,
      loader: "ts",
    },
    bundle: true,
    format: "esm",
    platform: "node",
    mainFields: ["module", "main"],
    outfile,
    alias: { "@": path.join(root, "src") },
  });
  try {
    return await import(pathToFileURL(outfile));
  } finally {
    fs.rmSync(folder, { recursive: true });
  }
}
