/** Bundles the command and the measuring process into dist/, and compiles what is written in C. */
import { mkdirSync, readdirSync, readFileSync, rmSync } from "node:fs";
import path from "node:path";
import { build } from "esbuild";
import {
  compileLanes,
  compilePrograms,
  gatherLaneSource,
  gatherProgramSource,
} from "./compile.mjs";

const root = path.resolve(import.meta.dirname, "..");
process.chdir(root);
mkdirSync("dist", { recursive: true });

const common = {
  outdir: "dist",
  outExtension: { ".js": ".mjs" },
  bundle: true,
  format: "esm",
  platform: "node",
  target: "node20",
  // Of a package in both forms, the modules: the other form of some cannot be bundled.
  mainFields: ["module", "main"],
  jsx: "automatic",
  define: { "process.env.NODE_ENV": '"production"' },
  external: ["better-sqlite3", "@duckdb/node-api"],
  banner: {
    // Bundled CommonJS packages (commander) still call require.
    js: 'import { createRequire as __createRequire } from "node:module"; const require = __createRequire(import.meta.url);',
  },
  logLevel: "warning",
};
const isWhole = !process.argv.includes("--engine-only");

await build({
  ...common,
  entryPoints: {
    engine: "src/engine/main.ts",
    "portable-lane": "src/engine/lanes/portable-lane.ts",
    "copy-side": "src/engine/copy/side.ts",
    ...(isWhole
      ? {
          report: "src/publish/main.ts",
          intake: "src/services/intake/main.ts",
          backup: "src/services/backups/main.ts",
          archive: "src/services/archive/main.ts",
        }
      : {}),
  },
});
if (isWhole) {
  // The command loads only what it is asked for, from pieces beside it; those of an earlier build go.
  for (const name of readdirSync("dist"))
    if (name.startsWith("cli-")) rmSync(path.join("dist", name));
  await build({
    ...common,
    entryPoints: { cli: "src/cli/main.ts" },
    splitting: true,
    chunkNames: "cli-[name]-[hash]",
  });
}

compileLanes(root);
gatherLaneSource(root);
if (isWhole) {
  const { version } = JSON.parse(readFileSync("package.json", "utf8"));
  compilePrograms(version);
  gatherProgramSource(version);
}
