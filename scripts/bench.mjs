/**
 * npm run bench: Nerrit's engine against a bare C program (threads, pread and pwrite, O_DIRECT), on one
 * and the same memory-backed device, in alternating runs. Prints medians and their ratio; nothing here
 * is a timed test.
 *
 * Reading is done on the device itself, writing in a file on a file system on it: Nerrit writes to no
 * device.
 *
 * Usage: npm run bench [-- DEVICE]     (default: /dev/zram0; what is on it is lost)
 */
import { execFileSync, spawn, spawnSync } from "node:child_process";
import { randomFillSync } from "node:crypto";
import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { createInterface } from "node:readline";
import { buildCommand, install, root } from "./prepare.mjs";

const ROUNDS = Number(process.env.ROUNDS ?? 9);
const SECONDS = 1;
const SPAN = 2 ** 29;
/** Wanted: the share of the bare program's rate that is to be reached. */
const CASES = [
  { name: "1 MiB, depth 1", block: 2 ** 20, depth: 1, wanted: 0.97 },
  { name: "1 MiB, depth 8", block: 2 ** 20, depth: 8, wanted: 0.97 },
  { name: "4 KiB, depth 1", block: 4096, depth: 1, wanted: 0.9 },
  { name: "4 KiB, depth 8", block: 4096, depth: 8, wanted: 0.85 },
  { name: "4 KiB, depth 32", block: 4096, depth: 32, wanted: 0.8 },
];
const DEEP = [32, 128, 256];

install();
buildCommand();
const device = process.argv[2] ?? "/dev/zram0";
const folder = fs.mkdtempSync(path.join(os.tmpdir(), "nerrit-bench-"));
const mount = path.join(folder, "mount");
const undo = [() => fs.rmSync(folder, { recursive: true })];
process.on("exit", () => undo.toReversed().forEach((step) => step()));
const bare = compile();
fill(device);

console.log(
  `${device}, ${SPAN / 2 ** 20} MiB, medians of ${ROUNDS} alternating runs of ${SECONDS} s, MB/s`,
);
for (const way of ["read", "write"]) {
  const places = way === "read" ? { c: device, nerrit: device } : withFileSystem();
  for (const { name, block, depth, wanted } of CASES) {
    const runs = { c: [], nerrit: [] };
    for (let round = 0; round < ROUNDS; round++) {
      runs.c.push(await runBare(places.c, block, depth, way));
      runs.nerrit.push(await runNerrit(places.nerrit, block, depth, way));
    }
    const [c, nerrit] = [runs.c, runs.nerrit].map((all) => median(all.map(({ mbps }) => mbps)));
    console.log(
      `${way.padEnd(6)} ${name.padEnd(16)} C ${c.toFixed(0).padStart(6)}   Nerrit ${nerrit.toFixed(0).padStart(6)} = ${(nerrit / c).toFixed(2)} of it (wanted: ${wanted})`,
    );
  }
}
const program = path.join(root, "dist/programs/nerrit-measure");
console.log("\nThe program for any machine, in a file on the same device, MB/s");
for (const way of ["read", "write"]) {
  for (const { name, block, depth } of CASES) {
    const runs = { c: [], program: [] };
    for (let round = 0; round < ROUNDS; round++) {
      runs.c.push((await runBare(path.join(mount, "bare"), block, depth, way)).mbps);
      runs.program.push(runProgram(block, depth, way));
    }
    const [c, own] = [median(runs.c), median(runs.program)];
    console.log(
      `${way.padEnd(6)} ${name.padEnd(16)} C ${c.toFixed(0).padStart(6)}   program ${own.toFixed(0).padStart(6)} = ${(own / c).toFixed(2)} of it (wanted: 0.97)`,
    );
  }
}
console.log(
  "\nDeep queues, reading 4 KiB: requests a second, processor µs a request, memory at most in MB",
);
for (const depth of DEEP) {
  const ways = { "C threads": [], threads: [], ring: [] };
  for (let round = 0; round < ROUNDS; round++) {
    ways["C threads"].push(await runBare(device, 4096, depth, "read"));
    ways.threads.push(await runNerrit(device, 4096, depth, "read", "native"));
    ways.ring.push(await runNerrit(device, 4096, depth, "read", "ring"));
  }
  for (const [name, all] of Object.entries(ways)) {
    const of = (pick) => median(all.map(pick));
    console.log(
      `depth ${String(depth).padEnd(4)} ${name.padEnd(10)} ${((of((r) => r.mbps) * 1e6) / 4096).toFixed(0).padStart(8)}/s  ${of((r) => r.processorUs).toFixed(2)} µs  ${of((r) => r.memoryMB).toFixed(0)} MB`,
    );
  }
}

function compile() {
  const binary = path.join(folder, "bare");
  const source = path.join(root, "scripts/benchmarks/bare.c");
  const { error, status } = spawnSync("gcc", ["-O2", "-pthread", "-o", binary, source], {
    stdio: "inherit",
  });
  if (error || status !== 0) {
    console.error("nerrit: the benchmark needs gcc for its C side, and gcc is missing or failed.");
    process.exit(1);
  }
  return binary;
}

/** Random data, so that nothing on the way can compress it. */
function fill(file) {
  const name = path.basename(file);
  const size = () => Number(fs.readFileSync(`/sys/block/${name}/size`, "utf8")) * 512;
  if (!fs.existsSync(`/sys/block/${name}`)) {
    console.error(`nerrit: ${file} is not a block device of this machine.`);
    process.exit(1);
  }
  const disksize = `/sys/block/${name}/disksize`;
  if (size() === 0 && fs.existsSync(disksize)) fs.writeFileSync(disksize, String(2 ** 31));
  const data = Buffer.alloc(2 ** 20);
  const fd = fs.openSync(file, "r+");
  for (let at = 0; at < SPAN; at += data.length)
    fs.writeSync(fd, randomFillSync(data), 0, data.length, at);
  fs.fsyncSync(fd);
  fs.closeSync(fd);
}

/** A file system on the device, with a file for the bare program. */
function withFileSystem() {
  const run = (...words) =>
    execFileSync(words[0], words.slice(1), { stdio: ["ignore", "ignore", "inherit"] });
  run("mkfs.ext4", "-q", "-F", "-m", "0", "-E", "lazy_itable_init=0,lazy_journal_init=0", device);
  fs.mkdirSync(mount);
  run("mount", device, mount);
  undo.push(() => run("umount", mount));
  const file = path.join(mount, "bare");
  const data = Buffer.alloc(2 ** 20);
  const fd = fs.openSync(file, "w");
  for (let at = 0; at < SPAN; at += data.length)
    fs.writeSync(fd, randomFillSync(data), 0, data.length, at);
  fs.fsyncSync(fd);
  fs.closeSync(fd);
  return { c: file, nerrit: mount };
}

async function runBare(file, block, depth, way) {
  const output = execFileSync(bare, [file, block, SPAN, depth, SECONDS, way].map(String), {
    encoding: "utf8",
  });
  const [mbps, processorUs, memory] = output.split(" ").map(Number);
  return { mbps, processorUs, memoryMB: memory / 1024 };
}

/** Runs the measuring process itself, as server and command do. */
function runNerrit(target, block, depth, way, lane = "") {
  const flow = {
    do: "flow",
    writeShare: way === "write" ? 1 : 0,
    order: "sequential",
    block,
    depth,
    span: SPAN,
    seconds: SECONDS,
    leadIn: 0.1,
  };
  const job = {
    targets: [target],
    program: [flow],
    repeats: 1,
    io: "direct",
    reserve: 0,
    keepOff: null,
    nerrit: "bench",
  };
  return new Promise((resolve, reject) => {
    const engine = spawn(process.execPath, [path.join(root, "dist/engine.mjs")], {
      env: { ...process.env, NERRIT_LANE: lane },
      stdio: ["pipe", "pipe", "inherit"],
    });
    engine.stdin.write(`${JSON.stringify(job)}\n`);
    let result = null;
    let memoryMB = 0;
    createInterface({ input: engine.stdout }).on("line", (line) => {
      const event = JSON.parse(line);
      if (event.event === "stepped") {
        result = event.result;
        const status = fs.readFileSync(`/proc/${engine.pid}/status`, "utf8");
        memoryMB = Number(/VmHWM:\s+(\d+)/.exec(status)?.[1]) / 1024;
      } else if (event.event === "refused" || event.event === "failed")
        reject(new Error(event.reason));
    });
    engine.on("close", () =>
      resolve({
        mbps: result.bytes / 1e3 / result.ms,
        processorUs: result.processorUsPerRequest,
        memoryMB,
      }),
    );
  });
}

/** Runs the program that measures without Nerrit. @returns MB/s of what it counted */
function runProgram(block, depth, way) {
  const out = path.join(folder, "run.jsonl");
  fs.rmSync(out, { force: true });
  const settings = { block, depth, span: SPAN, seconds: SECONDS, repeats: 1, reserve: 0 };
  execFileSync(
    program,
    ["--drill", "haul", "--direction", way, "--target", mount, "--out", out].concat(
      Object.entries(settings).flatMap(([name, value]) => [`--${name}`, String(value)]),
    ),
    { stdio: ["ignore", "ignore", "pipe"] },
  );
  const lines = fs
    .readFileSync(out, "utf8")
    .trim()
    .split("\n")
    .map((line) => JSON.parse(line));
  const { read, written, ms } = lines.find(({ event }) => event === "counted");
  return (read + written) / 1e3 / ms;
}

function median(values) {
  const sorted = values.toSorted((a, b) => a - b);
  return sorted[Math.floor(sorted.length / 2)];
}
