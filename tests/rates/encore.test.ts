import { execFileSync } from "node:child_process";
import fs from "node:fs";
import path from "node:path";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { nerrit, ROOT } from "../support/command";
import { nothingStolen, stolenSeconds } from "../support/stolen";
import { makeDisk, whyNoThrottle, type Disk } from "../support/loop-device";
import { whyNoTracing } from "../support/tracing";

const why = whyNoThrottle() ?? whyNoTracing();
if (why) console.warn(`skipped: real work beside its Encore (${why})`);

/** Limits of the whole machine's traffic with a device: what the kernel writes by itself is held, too. */
const LIMITS = "/sys/fs/cgroup/blkio/blkio.throttle";

/** So many quiet pairs of work and Encore are compared, in so many rounds at most. */
const PAIRS = 5;
const MOST_ROUNDS = 12;
/** Of one processor's time while a pair goes on, so much may be taken by other guests of the host. */
const MOST_STOLEN = 0.02;

/** A database that commits five rows at a time, and then one large file. */
const DATABASE = `
const Database = require("better-sqlite3");
const fs = require("node:fs");
const crypto = require("node:crypto");
fs.rmSync("db", { recursive: true, force: true });
fs.mkdirSync("db");
const db = new Database("db/rows.sqlite");
db.pragma("journal_mode = delete");
db.pragma("synchronous = full");
db.exec("create table t (a integer primary key, b blob)");
const insert = db.prepare("insert into t (b) values (?)");
const five = db.transaction(() => { for (let i = 0; i < 5; i++) insert.run(crypto.randomBytes(2000)); });
for (let i = 0; i < 1500; i++) five();
const file = fs.openSync("db/large", "w");
for (let i = 0; i < 80; i++) fs.writeSync(file, crypto.randomBytes(1 << 20));
fs.fsyncSync(file);
`;
/** Small files of C, compiled one after another and linked. */
const BUILD = `
rm -f *.o program; for f in f*.c main.c; do cc -O1 -c $f -o \${f%.c}.o; done; cc *.o -o program; sync -f .`;

describe.skipIf(why)("real work beside its Encore", () => {
  let disk: Disk;
  let folder: string;
  beforeAll(() => {
    disk = makeDisk(3000);
    folder = fs.mkdtempSync("/dev/shm/nerrit-works-");
    const random = Buffer.alloc(8 << 20, 7);
    fs.mkdirSync(path.join(disk.directory, "pictures"));
    for (let i = 0; i < 30; i++)
      fs.writeFileSync(path.join(disk.directory, `pictures/${i}.raw`), random);
    for (let i = 0; i < 20; i++) {
      const body = Array.from(
        { length: 50 },
        (_, j) => `int f${i}_${j}(int a) { return a * ${i + j}; }`,
      );
      fs.writeFileSync(path.join(disk.directory, `f${i}.c`), body.join("\n"));
    }
    fs.writeFileSync(path.join(disk.directory, "main.c"), "int main(void) { return 0; }\n");
    fs.writeFileSync(path.join(folder, "database.cjs"), DATABASE);
    // Blocks that are written for the first time take their memory first, which no later writing does.
    execFileSync("sh", ["-c", "cat /dev/zero > filled; sync; rm filled; sync"], {
      cwd: disk.directory,
      stdio: "ignore",
    });
  });
  afterAll(() => {
    limit(0);
    fs.rmSync(folder, { recursive: true });
    disk.remove();
  });

  const limit = (mbps: number) => {
    for (const way of ["read", "write"])
      fs.writeFileSync(`${LIMITS}.${way}_bps_device`, `${disk.number} ${mbps * 1e6}`);
  };
  /** As after plugging in: nothing of the disk is in memory. */
  const cold = () => {
    execFileSync("sync");
    execFileSync("umount", [disk.directory]);
    execFileSync("mount", [disk.device, disk.directory]);
  };
  const env = { ...process.env, NODE_PATH: path.join(ROOT, "node_modules") };
  const record = async (script: string, file: string) => {
    cold();
    const times = path.join(folder, "times");
    const command = ["sh", "-ec", `cd ${disk.directory}; ${script}; times >${times}`];
    const args = ["record", disk.device, "--out", file, "--json", "--", ...command];
    const { stdout, stderr } = await nerrit(args, undefined, { NODE_PATH: env.NODE_PATH });
    expect(stderr).toBe("");
    // The shell's own user and system time, then its children's: "0m1.250000s".
    const processor = [...fs.readFileSync(times, "utf8").matchAll(/(\d+)m([\d.]+)s/g)].reduce(
      (sum, [, minutes, seconds]) => sum + Number(minutes) * 60 + Number(seconds),
      0,
    );
    return { ...JSON.parse(stdout), processor };
  };
  const encore = async (file: string) => {
    const asked = ["--drill", "encore", "--recording", file, "--target", disk.directory];
    const { stdout } = await nerrit(["measure", ...asked, "--json"]);
    const { runs } = JSON.parse(stdout) as { runs: { ms: number }[] };
    return runs[0]!.ms / 1e3;
  };
  const middle = (numbers: number[]) => numbers.toSorted((a, b) => a - b)[numbers.length >> 1]!;

  const works: [string, () => string][] = [
    ["a build", () => BUILD],
    // Of a disk in memory a copy is bound by the processor, which the program and the disk share.
    ["a copy on a slower disk alone", () => "rm -rf copy; cp -r pictures copy; sync -f ."],
    ["a database under load", () => `node ${path.join(folder, "database.cjs")}`],
  ];
  it.each(works)(
    "%s takes as long again on the same disk, and on a slower one as long as the work itself",
    async (name, script) => {
      const file = path.join(folder, `${name}.jsonl`);
      const apart: Record<number, number[]> = { 0: [], 80: [], 40: [] };
      const few = () => Object.values(apart).some(({ length }) => length < PAIRS);
      await record(script(), `${file}-first`);
      // Programs are not equally quick each time, nor the machine from minute to minute: Encore stands
      // beside work of the same minute, and the middle of the pairs counts.
      for (let round = 0; few() && round < MOST_ROUNDS; round++) {
        const out = `${file}-${round}`;
        await nothingStolen();
        let stolen = stolenSeconds();
        const recorded = await record(script(), out);
        const { seconds, counted, bytesRead, bytesWritten } = recorded;
        expect(Math.abs(bytesWritten / counted.written - 1)).toBeLessThan(0.001);
        if (counted.read > 0) expect(Math.abs(bytesRead / counted.read - 1)).toBeLessThan(0.001);
        const disturbed = (stolenSeconds() - stolen) / seconds > MOST_STOLEN;
        for (const mbps of disturbed ? [] : [0, 80, 40]) {
          stolen = stolenSeconds();
          limit(mbps);
          const slow = `${out}-${mbps}`;
          // The recording has the programs as quick as they were then: what they took more or less of the
          // processor this time is no matter of the drive's.
          const work = mbps ? await record(script(), slow) : recorded;
          const itself = work.seconds - (work.processor - recorded.processor);
          const again = await encore(out);
          limit(0);
          const share = (stolenSeconds() - stolen) / (itself + again);
          if (share < MOST_STOLEN) apart[mbps]!.push(again / itself - 1);
          const own = `${work.seconds.toFixed(2)} s, of it processor ${work.processor.toFixed(2)}`;
          const where = mbps ? `at ${mbps} MB/s` : "on the same disk";
          const kept =
            share < MOST_STOLEN ? "" : `, left out: ${(share * 100).toFixed(1)} % stolen`;
          console.log(
            `${name} ${where} (${own}): ${itself.toFixed(2)} s, Encore ${again.toFixed(2)} s${kept}`,
          );
        }
      }
      expect(few(), "others took this machine's processors: not one figure can be told").toBe(
        false,
      );
      for (const [mbps, shares] of Object.entries(apart))
        if (mbps !== "0" || !name.includes("alone"))
          expect(Math.abs(middle(shares)), `${name} at ${mbps} MB/s: ${shares}`).toBeLessThan(0.05);
    },
    1_800_000,
  );
});
