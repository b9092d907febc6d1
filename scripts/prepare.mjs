/**
 * Brings a clone into a state to run in, doing only what has not been done: install and build. Two
 * commands at once do not do it twice: the second waits for the first.
 *
 * Usage by itself: node scripts/prepare.mjs install | command | web
 */
import { spawn, spawnSync } from "node:child_process";
import { createHash } from "node:crypto";
import { existsSync, mkdirSync, readdirSync, readFileSync, statSync, writeFileSync } from "node:fs";
import path from "node:path";
import { mendLinks } from "./mend-links.mjs";

export const root = path.resolve(import.meta.dirname, "..");
const at = (...names) => path.join(root, ...names);

/** Runs a program in the project, its output to standard error; ends this process if it fails. */
function must(what, command, args, ...counted) {
  const progress = spawn(process.execPath, [at("scripts/progress.mjs"), what, ...counted], {
    stdio: ["ignore", "ignore", process.stderr.fd],
  });
  const result = run(command, args);
  progress.kill();
  if (result.status === 0) return;
  const why = result.error ? result.error.message : `it ended with status ${result.status}`;
  console.error(`nerrit: ${what} failed: ${why}.`);
  process.exit(1);
}

const run = (command, args) =>
  spawnSync(command, args, {
    cwd: root,
    stdio: ["ignore", process.stderr.fd, process.stderr.fd],
    env: { ...process.env, NEXT_TELEMETRY_DISABLED: "1" },
  });

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

/** A digest of files' names and of what is said of each: what a step depends on. */
function digest(entries, of) {
  const hash = createHash("sha256");
  for (const name of entries) {
    const full = at(name);
    const files = path.extname(name) ? [full] : [...filesBelow(full)].sort();
    for (const file of files) {
      if (/\.test\.tsx?$/.test(file) || !existsSync(file)) continue;
      hash.update(path.relative(root, file)).update("\0").update(of(file)).update("\0");
    }
  }
  return hash.digest("hex");
}

/** What a file holds. */
const contents = (file) => readFileSync(file);
/** What changes with it, known without reading it. */
function glance(file) {
  const { size, mtimeNs } = statSync(file, { bigint: true });
  return `${size} ${mtimeNs}`;
}

const PACKAGES = ["package.json", "package-lock.json"];
const COMMAND_INPUT = [
  "src/archive",
  "src/core",
  "src/engine",
  "src/services",
  "src/store",
  "src/cli",
  "demo",
  "src/publish",
  "src/ui/narrows",
  "scripts/build.mjs",
  "scripts/compile.mjs",
  ...PACKAGES,
];
const WEB_INPUT = [
  "src",
  "demo",
  "next.config.ts",
  "postcss.config.mjs",
  "tsconfig.json",
  ...PACKAGES,
];

/** What there is to do, each with a way to tell whether it has been done. */
const STEPS = {
  install: {
    isDone: isInstalled,
    do() {
      console.error("nerrit: installing dependencies (a few minutes the first time) ...");
      must("installing dependencies", "npm", ["ci", "--no-audit", "--no-fund"], "--packages");
    },
  },
  command: marked("dist/.built", COMMAND_INPUT, () => {
    must("building the command", process.execPath, ["scripts/build.mjs"]);
  }),
  web: marked(".next/.built", WEB_INPUT, () => {
    console.error("nerrit: building the web application (half a minute) ...");
    const next = at("node_modules/next/dist/bin/next");
    must("building the web application", process.execPath, [next, "build"]);
  }),
};

/** A step whose mark says for which input it was done, and how that looked at a glance. */
function marked(mark, input, step) {
  const write = (state, look) => {
    mkdirSync(path.dirname(at(mark)), { recursive: true });
    writeFileSync(at(mark), `${state}\n${look}\n`);
  };
  return {
    isDone() {
      if (!existsSync(at(mark))) return false;
      const [state, look] = readFileSync(at(mark), "utf8").split("\n");
      const now = digest(input, glance);
      if (look === now) return true;
      if (state !== digest(input, contents)) return false;
      write(state, now);
      return true;
    },
    do() {
      const before = [digest(input, contents), digest(input, glance)];
      step();
      write(...before);
    },
  };
}

/** What an install without its scripts leaves out. */
const SQLITE = "node_modules/better-sqlite3";
const COMPILED = "build/Release/better_sqlite3.node";

/**
 * Whether everything that package-lock.json names is installed, by whomever. npm writes its hidden
 * lock file last, so after an install that failed or was cut short there is none, or an old one.
 */
function isInstalled() {
  try {
    const read = (name) => JSON.parse(readFileSync(at(name), "utf8")).packages;
    const there = read("node_modules/.package-lock.json");
    const wanted = Object.entries(read("package-lock.json"));
    if (wanted.some(([name]) => name === SQLITE) && !existsSync(at(SQLITE, COMPILED))) return false;
    return wanted.every(([name, { version, optional }]) => {
      if (name === "") return true;
      const found = there[name];
      // What is meant for other platforms only is left out.
      if (!found) return optional === true;
      return found.version === version && existsSync(at(name, "package.json"));
    });
  } catch {
    return false;
  }
}

const LOCK = ".prepare.lock";
/** What flock(1) is told to say where somebody else holds the lock; no status of ours. */
const HELD = 75;

/**
 * Does a step unless it has been done, while nobody else does one here. The lock is the kernel's: it
 * goes when all processes that hold it are gone, the step's own children too.
 */
function prepare(name) {
  if (STEPS[name].isDone()) return;
  const step = [process.execPath, "scripts/prepare.mjs", name];
  const first = run("flock", ["--nonblock", "-E", String(HELD), LOCK, ...step]);
  if (first.error) return STEPS[name].do(); // a system without flock(1)
  if (first.status === HELD) {
    console.error("nerrit: another command is installing or building here; waiting for it ...");
    must(`the step "${name}"`, "flock", [LOCK, ...step]);
  } else if (first.status !== 0) process.exit(1);
}

/** Installs the dependencies that package-lock.json names, and puts right what a checkout may have lost. */
export function install() {
  mendLinks(at("demo/systems"));
  prepare("install");
}
/** Builds the command and the measuring process. */
export const buildCommand = () => prepare("command");
/** Builds the web application. */
export const buildWeb = () => prepare("web");

// Run by itself, it does one step: the lock is held by whoever ran it.
if (
  process.argv[1] &&
  path.resolve(process.argv[1]) === path.join(import.meta.dirname, "prepare.mjs")
) {
  const step = STEPS[process.argv[2]];
  if (!step) {
    console.error("Usage: node scripts/prepare.mjs install | command | web");
    process.exit(2);
  }
  if (!step.isDone()) step.do();
}
