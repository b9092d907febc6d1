import { build } from "esbuild";
import fs from "node:fs";
import path from "node:path";
import { pathToFileURL } from "node:url";
import { threadId } from "node:worker_threads";
import { root } from "./prepare.mjs";

/** Bundles so far: what was imported from one name is never read again. */
let made = 0;

/**
 * Some of the application's own modules, bundled for a bench and imported.
 *
 * @param {string[]} modules their paths below src, without an ending
 */
export async function bundled(modules) {
  // Beside the packages that it needs as they are.
  const outfile = path.join(root, "dist", `bench-${process.pid}-${threadId}-${(made += 1)}.mjs`);
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
    external: ["better-sqlite3", "@duckdb/node-api", "pino"],
    outfile,
    alias: { "@": path.join(root, "src"), "@demo": path.join(root, "demo") },
  });
  try {
    return await import(pathToFileURL(outfile));
  } finally {
    fs.rmSync(outfile);
  }
}
