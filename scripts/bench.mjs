/**
 * npm run bench: Nerrit's engine against a bare C loop of pread with O_DIRECT, on one and the same
 * device, in alternating runs. Prints the ratio of the medians; nothing here is a timed test.
 *
 * Usage: npm run bench [-- DEVICE]     (default: /dev/zram0, filled with random data if it is empty)
 */
import { execFileSync, spawnSync } from "node:child_process";
import {
  existsSync,
  mkdtempSync,
  openSync,
  readFileSync,
  rmSync,
  writeFileSync,
  writeSync,
} from "node:fs";
import { randomFillSync } from "node:crypto";
import os from "node:os";
import path from "node:path";
import { buildCommand, install, root } from "./prepare.mjs";

const ROUNDS = 9;
const SECONDS = 1;
const CASES = [
  { name: "1 MiB, depth 1", block: 2 ** 20, wanted: 0.95 },
  { name: "4 KiB, depth 1", block: 4096, wanted: 0.8 },
];

const C_LOOP = `
#define _GNU_SOURCE
#include <fcntl.h>
#include <stdio.h>
#include <stdlib.h>
#include <time.h>
#include <unistd.h>
static double now(void) {
  struct timespec t;
  clock_gettime(CLOCK_MONOTONIC, &t);
  return t.tv_sec + t.tv_nsec / 1e9;
}
int main(int argc, char **argv) {
  size_t block = strtoul(argv[2], 0, 10);
  off_t span = strtoll(argv[3], 0, 10), at = 0;
  double seconds = atof(argv[4]);
  int fd = open(argv[1], O_RDONLY | O_DIRECT);
  void *data;
  if (argc < 5 || fd < 0 || posix_memalign(&data, 4096, block)) return 1;
  double start = now(), end = start;
  long count = 0;
  while (end - start < seconds) {
    for (int i = 0; i < 16; i++, count++) {
      if (pread(fd, data, block, at) != (ssize_t)block) return 1;
      at = at + 2 * (off_t)block <= span ? at + (off_t)block : 0;
    }
    end = now();
  }
  printf("%f\\n", count * (double)block / 1e6 / (end - start));
  return 0;
}`;

install();
buildCommand();
const device = process.argv[2] ?? "/dev/zram0";
const folder = mkdtempSync(path.join(os.tmpdir(), "nerrit-bench-"));
process.on("exit", () => rmSync(folder, { recursive: true }));
const loop = compile();
const span = fillIfEmpty(device);

console.log(
  `${device}, ${span / 2 ** 20} MiB, ${ROUNDS} alternating runs of ${SECONDS} s each, MB/s`,
);
for (const { name, block, wanted } of CASES) {
  const runs = { c: [], native: [], portable: [] };
  for (let round = 0; round < ROUNDS; round++) {
    runs.c.push(Number(execFileSync(loop, [device, block, span, SECONDS].map(String))));
    for (const lane of ["native", "portable"]) runs[lane].push(nerrit(block, lane));
  }
  const [c, native, portable] = [runs.c, runs.native, runs.portable].map(median);
  console.log(
    [
      name.padEnd(15),
      `C loop ${c.toFixed(0)}`,
      `Nerrit ${native.toFixed(0)} = ${(native / c).toFixed(2)} of it (wanted: ${wanted})`,
      `without the native lane ${portable.toFixed(0)} = ${(portable / c).toFixed(2)}`,
    ].join("  "),
  );
}

function compile() {
  const source = path.join(folder, "loop.c");
  writeFileSync(source, C_LOOP);
  const binary = path.join(folder, "loop");
  const { error, status } = spawnSync("gcc", ["-O2", "-o", binary, source], { stdio: "inherit" });
  if (error || status !== 0) {
    console.error("nerrit: the benchmark needs gcc for its C side, and gcc is missing or failed.");
    process.exit(1);
  }
  return binary;
}

/** Random data, so that nothing on the way can compress it. @returns bytes to walk over */
function fillIfEmpty(file) {
  const name = path.basename(file);
  const size = () => Number(readFileSync(`/sys/block/${name}/size`, "utf8")) * 512;
  if (!existsSync(`/sys/block/${name}`)) {
    console.error(`nerrit: ${file} is not a block device of this machine.`);
    process.exit(1);
  }
  const disksize = `/sys/block/${name}/disksize`;
  if (size() === 0 && existsSync(disksize)) {
    writeFileSync(disksize, String(2 ** 30));
    const data = Buffer.alloc(2 ** 20);
    const fd = openSync(file, "r+");
    for (let at = 0; at < size(); at += data.length) {
      writeSync(fd, randomFillSync(data), 0, data.length, at);
    }
  }
  return Math.min(size(), 2 ** 29);
}

function nerrit(block, lane) {
  const args = ["measure", "--target", device, "--drill", "haul", "--direction", "read", "--json"];
  const more = { block, depth: 1, span, seconds: SECONDS };
  for (const [key, value] of Object.entries(more)) args.push(`--${key}`, String(value));
  const output = execFileSync(process.execPath, [path.join(root, "bin/nerrit.mjs"), ...args], {
    env: { ...process.env, NERRIT_LANE: lane },
    maxBuffer: 2 ** 26,
  });
  return JSON.parse(output).meanMBps;
}

function median(values) {
  const sorted = values.toSorted((a, b) => a - b);
  return sorted[Math.floor(sorted.length / 2)];
}
