import { spawn } from "node:child_process";
import { once } from "node:events";
import fs from "node:fs";
import path from "node:path";
import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, it } from "vitest";
import { tracingFolder } from "@/engine/record/trace-instance";
import { readRecording, type Recording } from "@/core/recording/recording-file";
import { nerrit, ROOT, until } from "../support/command";
import { LONG } from "../support/long";
import { makeDisk, whyNoDevices, type Disk } from "../support/loop-device";
import { hasInstance, whyNoTracing } from "../support/tracing";

const why =
  whyNoDevices() ??
  whyNoTracing() ??
  (fs.existsSync(path.join(tracingFolder(), "events/syscalls"))
    ? null
    : "needs a kernel that tells of calls");
if (why) console.warn(`skipped: recording calls on a folder (${why})`);

/** A program that reads and writes in the ways that programs do, some from several threads. */
const WORK = `
import fs from "node:fs";
const place = process.argv[2];
const large = place + "/large";
const all = Buffer.alloc(65536, 7);
const out = fs.openSync(large, "w");
for (let i = 0; i < 40; i++) fs.writeSync(out, all);
fs.fsyncSync(out);
fs.closeSync(out);
const into = fs.openSync(large, "r");
for (let i = 0; i < 100; i++) fs.readSync(into, all, 0, 4096, ((i * 37) % 500) * 4096);
fs.closeSync(into);
for (let i = 0; i < 200; i++) {
  fs.writeFileSync(place + "/small" + i, all.subarray(0, 2048));
  fs.readFileSync(place + "/small" + i);
}
for (let i = 0; i < 20; i++) fs.appendFileSync(place + "/log", all.subarray(0, 512));
const handle = await fs.promises.open(large, "r");
await Promise.all(Array.from({ length: 64 }, (_, i) => handle.read(Buffer.alloc(8192), 0, 8192, i * 8192)));
await handle.close();
`;

describe.skipIf(why)("recording what programs do in a folder", () => {
  let disk: Disk;
  let folder: string;
  let out: string;
  /** The process that recorded last. */
  let recorder: number;
  beforeAll(() => {
    disk = makeDisk(200);
  });
  afterAll(() => disk.remove());
  beforeEach(() => {
    folder = fs.mkdtempSync("/dev/shm/nerrit-record-");
    out = path.join(folder, "work.jsonl");
    fs.writeFileSync(path.join(folder, "work.mjs"), WORK);
    fs.mkdirSync(path.join(folder, "share"));
  });
  afterEach(() => fs.rmSync(folder, { recursive: true }));

  const recording = (file = out): Recording => readRecording(fs.readFileSync(file, "utf8"));
  const record = (place: string, ...work: string[]) =>
    nerrit(["record", place, "--out", out, "--", ...work], (pid) => (recorder = pid));
  const by = ({ requests, programs }: Recording, program: string, kind: string) =>
    requests.filter((one) => one.kind === kind && programs[one.program] === program);
  const sum = (requests: readonly { bytes: number }[]) =>
    requests.reduce((total, { bytes }) => total + bytes, 0);

  it.each(["in memory", "on a drive"])(
    "has each call with its place, its size and its program, and no other folder's, %s",
    async (where) => {
      const place = where === "in memory" ? path.join(folder, "share") : disk.directory;
      const { status, stderr, stdout } = await record(
        place,
        "sh",
        "-c",
        `${process.execPath} ${folder}/work.mjs ${place}; cat ${place}/small* > ${place}/all; cat ${place}/log ${folder}/work.mjs >> ${folder}/elsewhere`,
      );
      expect([status, stderr]).toEqual([0, ""]);
      expect(stdout).toMatch(/These are calls of programs/);
      const found = recording();
      expect(found.head).toMatchObject({ device: fs.realpathSync(place), points: ["syscalls"] });
      expect(found.end).toMatchObject({ lost: 0, reason: null });
      const writes = by(found, "node", "write");
      expect(writes.map(({ bytes }) => bytes)).toEqual([
        ...Array.from({ length: 40 }, () => 65536),
        ...Array.from({ length: 200 }, () => 2048),
        ...Array.from({ length: 20 }, () => 512),
      ]);
      const places = (from: number, to: number) =>
        writes.slice(from, to).map(({ offset }) => offset % 2 ** 37);
      expect(places(0, 40)).toEqual(Array.from({ length: 40 }, (_, i) => i * 65536));
      expect(places(240, 260)).toEqual(Array.from({ length: 20 }, (_, i) => i * 512));
      const reads = by(found, "node", "read");
      const small = reads.filter(({ bytes }) => bytes === 4096);
      expect(small.map(({ offset }) => offset % 2 ** 37)).toEqual(
        Array.from({ length: 100 }, (_, i) => ((i * 37) % 500) * 4096),
      );
      expect(reads.filter(({ bytes }) => bytes === 2048)).toHaveLength(200);
      const threads = reads.filter(({ bytes }) => bytes === 8192);
      expect(threads.map(({ offset }) => offset % 2 ** 37).toSorted((a, b) => a - b)).toEqual(
        Array.from({ length: 64 }, (_, i) => i * 8192),
      );
      expect(by(found, "node", "flush")).toHaveLength(1);
      // Programs after it: one that writes by a number that it was given.
      expect(sum(by(found, "cat", "read"))).toBe(200 * 2048 + 20 * 512);
      expect(sum(by(found, "cat", "write"))).toBe(200 * 2048);
      expect(hasInstance(recorder)).toBe(false);
    },
  );

  it("is done again on a drive", async () => {
    const share = path.join(folder, "share");
    expect((await record(share, process.execPath, `${folder}/work.mjs`, share)).status).toBe(0);
    const args = ["--drill", "encore", "--recording", out, "--target", disk.directory];
    const { status, stdout } = await nerrit(["measure", ...args, "--reserve", "1MiB", "--json"]);
    expect(status).toBe(0);
    const { requests } = recording();
    expect(JSON.parse(stdout).requests).toBe(
      requests.filter(({ kind }) => kind !== "flush").length,
    );
  });

  it("keeps nobody waiting once it is killed, and the next one takes its trace away", async () => {
    const share = path.join(folder, "share");
    const beat = path.join(folder, "beat");
    const script = `echo $$ > ${folder}/pid; while :; do echo x > ${share}/x; cat ${share}/x > ${beat}; done`;
    const child = spawn(
      process.execPath,
      ["bin/nerrit.mjs", "record", share, "--out", out, "--", "sh", "-c", script],
      { cwd: ROOT, stdio: "ignore" },
    );
    await until(
      "calls were recorded",
      () => fs.existsSync(out) && fs.readFileSync(out, "utf8").includes('"requests"'),
    );
    const ended = once(child, "exit");
    child.kill("SIGKILL");
    await ended;
    try {
      fs.rmSync(beat, { force: true });
      await until("the work goes on", () => fs.existsSync(beat));
    } finally {
      process.kill(Number(fs.readFileSync(`${folder}/pid`, "utf8")), "SIGKILL");
    }
    expect(recording().end.reason).toMatch(/ends before the recording does/);
    out = path.join(folder, "next.jsonl");
    expect((await record(share, "true")).status).toBe(0);
    expect([hasInstance(child.pid!), hasInstance(recorder)]).toEqual([false, false]);
  });

  it(
    "says that a folder needs a program, which is not there, and what was mapped into memory",
    LONG,
    async () => {
      const share = path.join(folder, "share");
      const alone = await nerrit(["record", share, "--out", out]);
      expect([alone.status, alone.stderr]).toEqual([1, expect.stringMatching(/Name the program/)]);
      expect(fs.existsSync(out)).toBe(false);
      const none = await record(share, "no-such-work");
      expect([none.status, none.stderr]).toEqual([1, expect.stringMatching(/could not be begun/)]);
      fs.copyFileSync("/bin/true", `${share}/true`);
      expect((await record(share, `${share}/true`)).status).toBe(0);
      expect(recording().requests.filter(({ kind }) => kind === "write")).toEqual([]);
    },
  );
});
