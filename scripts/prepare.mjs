/** Brings a clone into a state to run in, doing only what has not been done: install and build. */
import { spawnSync } from "node:child_process";
import { createHash } from "node:crypto";
import { existsSync, mkdirSync, readdirSync, readFileSync, writeFileSync } from "node:fs";
import path from "node:path";

export const root = path.resolve(import.meta.dirname, "..");
const at = (...names) => path.join(root, ...names);

/** Runs a program in the project, its output to standard error; ends this process if it fails. */
export function must(what, command, args, env = {}) {
  const result = spawnSync(command, args, {
    cwd: root,
    stdio: ["ignore", process.stderr.fd, process.stderr.fd],
    env: { ...process.env, NEXT_TELEMETRY_DISABLED: "1", ...env },
  });
  if (result.status === 0) return;
  const why = result.error ? result.error.message : `it ended with status ${result.status}`;
  console.error(`nerrit: ${what} failed: ${why}.`);
  process.exit(1);
}

/** Every file below a folder; what links point to is found in its own place. */
function* filesBelow(entry) {
  if (!existsSync(entry)) return;
  const children = readdirSync(entry, { withFileTypes: true });
  for (const child of children) {
    const full = path.join(entry, child.name);
    if (child.isDirectory()) yield* filesBelow(full);
    else if (child.isFile()) yield full;
  }
}

/** A digest of files' names and contents: what a step depends on. */
function digest(...entries) {
  const hash = createHash("sha256");
  for (const name of entries) {
    const full = at(name);
    const files = path.extname(name) ? [full] : [...filesBelow(full)].sort();
    for (const file of files) {
      if (/\.test\.tsx?$/.test(file) || !existsSync(file)) continue;
      hash.update(path.relative(root, file)).update("\0").update(readFileSync(file)).update("\0");
    }
  }
  return hash.digest("hex");
}

/** Does a step unless its mark says that it was done for the same input. */
function once(markFile, state, step) {
  const mark = at(markFile);
  if (existsSync(mark) && readFileSync(mark, "utf8") === state) return;
  step();
  mkdirSync(path.dirname(mark), { recursive: true });
  writeFileSync(mark, state);
}

/** Installs the dependencies that package-lock.json names. */
export function install() {
  once("node_modules/.nerrit-installed", digest("package-lock.json"), () => {
    console.error("nerrit: installing dependencies (a few minutes the first time) ...");
    must("installing dependencies", "npm", ["ci", "--no-audit", "--no-fund"]);
  });
}

const COMMAND_INPUT = [
  "src/core",
  "src/engine",
  "src/bench",
  "src/store",
  "src/cli",
  "demo/first-study.ts",
];

/** Builds the command and the measuring process. */
export function buildCommand() {
  const input = digest(...COMMAND_INPUT, "scripts/build.mjs", "package.json", "package-lock.json");
  once("dist/.built", input, () => {
    must("building the command", process.execPath, ["scripts/build.mjs"]);
  });
}

/** Builds the web application. */
export function buildWeb() {
  const input = digest(
    "src",
    "demo",
    "next.config.ts",
    "postcss.config.mjs",
    "tsconfig.json",
    "package.json",
    "package-lock.json",
  );
  once(".next/.built", input, () => {
    console.error("nerrit: building the web application (half a minute) ...");
    must("building the web application", process.execPath, [
      at("node_modules/next/dist/bin/next"),
      "build",
    ]);
  });
}
