import { spawn } from "node:child_process";
import { once } from "node:events";
import fs from "node:fs";
import path from "node:path";
import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, it } from "vitest";
import { askedOf } from "@/core/recording/asked";
import { readRecording, type Recording } from "@/core/recording/recording-file";
import { programsOf } from "@/core/recording/recording-words";
import { nerrit, ROOT, until } from "../support/command";
import { makeDisk, makeLoop, whyNoDevices, type Disk } from "../support/loop-device";
import { hasInstance, whyNoTracing } from "../support/tracing";
import { LONG } from "../support/long";

const ZRAM = "/sys/class/zram-control";
const why = whyNoDevices() ?? whyNoTracing();
if (why) console.warn(`skipped: recording requests (${why})`);

describe.skipIf(why)("recording what reaches a drive", () => {
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
  });
  afterEach(() => fs.rmSync(folder, { recursive: true }));

  const recording = (file = out): Recording => readRecording(fs.readFileSync(file, "utf8"));
  const record = (script: string, device = disk.device, file = out) =>
    nerrit(["record", device, "--out", file, "--", "sh", "-ec", script], (pid) => (recorder = pid));
  /** Begins a recording that only an outsider ends, and waits until requests have come. */
  const begin = async (script: string, device = disk.device, file = out) => {
    const args = ["bin/nerrit.mjs", "record", device, "--out", file, "--", "sh", "-c", script];
    const child = spawn(process.execPath, args, { cwd: ROOT, stdio: ["ignore", "ignore", "pipe"] });
    recorder = child.pid!;
    const said: string[] = [];
    child.stderr.on("data", (text) => said.push(String(text)));
    // Its work may outlive it, and holds its output open.
    const ended = once(child, "exit").then(([status]) => status as number | null);
    await until(
      "requests were recorded",
      () => fs.existsSync(file) && fs.readFileSync(file, "utf8").includes('"requests"'),
    );
    return { child, ended, said: () => said.join("") };
  };
  /** Reads past memory, without end. */
  const reading = (device = disk.device) =>
    `while dd if=${device} of=/dev/null bs=4k count=2000 iflag=direct 2>/dev/null; do :; done`;

  it("accounts for every byte that the kernel counts, with sizes, kinds and programs", async () => {
    const { status, stderr, stdout } = await record(`
      cd ${disk.directory}
      dd if=/dev/zero of=large bs=1M count=40 conv=fsync 2>/dev/null
      dd if=large of=/dev/null bs=4k count=3000 iflag=direct 2>/dev/null
      for i in 1 2 3 4 5 6 7 8; do head -c 5000 /dev/urandom > small$i; done
      sync -f .
      fstrim .`);
    expect([status, stderr]).toEqual([0, ""]);
    expect(stdout).toMatch(/The drive had something to do for/);
    const { requests, end, head } = recording();
    expect(head).toMatchObject({ device: disk.device, command: expect.stringMatching(/^sh -ec/) });
    expect(end).toMatchObject({ lost: 0, reason: null });
    const moved = (kind: string) =>
      requests.reduce((sum, one) => sum + (one.kind === kind ? one.bytes : 0), 0);
    expect(end.counted!.read).toBeGreaterThanOrEqual(3000 * 4096);
    for (const [kind, bytes] of [
      ["read", end.counted!.read] as const,
      ["write", end.counted!.written] as const,
    ])
      expect(Math.abs(moved(kind) / bytes - 1)).toBeLessThan(0.001);
    expect(requests.filter(({ kind }) => kind === "discard").length).toBeGreaterThan(0);
    expect(requests.filter(({ tookUs }) => tookUs === null)).toEqual([]);
    const starts = requests.map(({ startUs }) => startUs);
    expect(starts).toEqual(starts.toSorted((a, b) => a - b));
    expect(programsOf(recording()).map(({ name }) => name)).toContain("dd");
    const small = requests.filter(({ kind, bytes }) => kind === "read" && bytes === 4096);
    expect(small.length).toBeGreaterThanOrEqual(3000);
    expect(askedOf(requests, end.ms).busyShare).toBeGreaterThan(0);
    expect(hasInstance(recorder)).toBe(false);
  });

  it(
    "tells of recorded work that is done again what the recording told, in the same order",
    LONG,
    async () => {
      const rows = Array.from({ length: 200 }, (_, i) => {
        const operation =
          i % 40 === 7 ? "flush+write+flush" : i % 40 === 9 ? "flush" : i % 2 ? "write" : "read";
        const bytes = operation === "flush" ? 0 : (1 + (i % 8)) * 4096;
        return { operation, bytes, offset: ((i * 37) % 200) * 2 ** 17, seconds: i / 1000 };
      });
      const work = path.join(folder, "work.csv");
      const lines = rows.map(({ seconds, operation, offset, bytes }) =>
        [seconds, operation, offset, bytes, 0.0004, "work"].join(),
      );
      const columns = "seconds,operation,offset,bytes,seconds_to_answer,program";
      fs.writeFileSync(work, `${[columns, ...lines].join("\n")}\n`);
      const encore = `${process.execPath} bin/nerrit.mjs measure --drill encore --recording ${work} --target ${disk.directory} --reserve 1MiB`;
      expect((await record(`cd ${ROOT}; ${encore}`)).status).toBe(0);
      const { requests, programs } = recording();
      // What is laid out first comes in large requests, and the file system's log goes by another name.
      const told = requests
        .filter(
          ({ program, kind, bytes }) =>
            programs[program]!.startsWith("node") && kind !== "flush" && bytes <= 32768,
        )
        .map(({ kind, bytes }) => `${kind} ${bytes}`);
      const wanted = rows
        .filter(({ operation }) => operation !== "flush")
        .map(({ operation, bytes }) => `${operation === "read" ? "read" : "write"} ${bytes}`);
      expect(told.join("\n")).toContain(wanted.join("\n"));
      expect(requests.filter(({ kind }) => kind === "flush").length).toBeGreaterThanOrEqual(
        5 + 2 * 5,
      );
    },
  );

  it("hands the work’s exit status on, and says what work could not be begun", async () => {
    expect((await record("exit 7")).status).toBe(7);
    const { status, stderr } = await nerrit([
      "record",
      disk.device,
      "--out",
      `${out}2`,
      "--",
      "no-such-work",
    ]);
    expect([status, stderr]).toEqual([1, expect.stringMatching(/no-such-work could not be begun/)]);
    expect(hasInstance(recorder)).toBe(false);
  });

  it("keeps two recordings apart that go on at once", LONG, async () => {
    const other = makeLoop(16);
    try {
      const second = path.join(folder, "other.jsonl");
      const [one, two] = await Promise.all([
        record(`dd if=${disk.device} of=/dev/null bs=64k count=100 iflag=direct 2>/dev/null`),
        record(
          `dd if=${other.device} of=/dev/null bs=16k count=100 iflag=direct 2>/dev/null`,
          other.device,
          second,
        ),
      ]);
      expect([one.status, two.status]).toEqual([0, 0]);
      const sizes = (file: string) =>
        recording(file).requests.filter(({ kind, program }) => kind === "read" && program >= 0);
      expect(sizes(out).filter(({ bytes }) => bytes === 65536).length).toBeGreaterThanOrEqual(100);
      expect(sizes(out).some(({ bytes }) => bytes === 16384)).toBe(false);
      expect(sizes(second).filter(({ bytes }) => bytes === 16384).length).toBeGreaterThanOrEqual(
        100,
      );
    } finally {
      other.remove();
    }
  });

  it("ends at Ctrl-C with what it has, and its work with it", async () => {
    const { child, ended } = await begin(`exec sh -c '${reading()}'`);
    child.kill("SIGINT");
    await ended;
    expect(recording().requests.length).toBeGreaterThan(0);
    expect(recording().programs).toContain("dd");
    expect(hasInstance(recorder)).toBe(false);
  });

  it("leaves a file that can be read when it is killed, and the next one takes its trace away", async () => {
    const { child, ended } = await begin(
      "sleep 600 & echo $! > " +
        path.join(folder, "pid") +
        "; " +
        `dd if=${disk.device} of=/dev/null bs=4k count=100 iflag=direct 2>/dev/null; wait`,
    );
    child.kill("SIGKILL");
    await ended;
    process.kill(Number(fs.readFileSync(path.join(folder, "pid"), "utf8")));
    const killed = recorder;
    expect(recording().end.reason).toMatch(/ends before the recording does/);
    expect((await record("true", disk.device, `${out}2`)).status).toBe(0);
    expect([hasInstance(killed), hasInstance(recorder)]).toEqual([false, false]);
  });

  it("says how many events were lost where it was kept from reading them", LONG, async () => {
    const { child, ended } = await begin(
      `${"dd if=" + disk.device} of=/dev/null bs=4k count=50 iflag=direct 2>/dev/null; ` +
        `for i in 1 2; do dd if=${disk.device} of=/dev/null bs=4k count=45000 iflag=direct 2>/dev/null; done; touch ${folder}/done`,
    ).catch((error) => Promise.reject(error));
    child.kill("SIGSTOP");
    await until("the work is done", () => fs.existsSync(path.join(folder, "done")));
    child.kill("SIGCONT");
    expect(await ended).toBe(0);
    expect(recording().end.lost).toBeGreaterThan(0);
    expect(recording().end.reason).toMatch(/had no room for/);
  });

  it.each([
    ["what is not there", "/dev/no-such", /There is no \/dev\/no-such/],
    ["a file", "/etc/passwd", /is neither a block device nor a folder/],
  ])("refuses %s", async (_, device, words) => {
    const { status, stderr } = await record("true", device);
    expect([status, stderr]).toEqual([1, expect.stringMatching(words)]);
    expect(fs.existsSync(out)).toBe(false);
  });

  it.skipIf(!fs.existsSync(ZRAM))("refuses a device that has no requests of its own", async () => {
    const number = fs.readFileSync(`${ZRAM}/hot_add`, "utf8").trim();
    try {
      const { status, stderr } = await record("true", `/dev/zram${number}`);
      expect([status, stderr]).toEqual([1, expect.stringMatching(/has no requests of its own/)]);
      expect(fs.existsSync(out)).toBe(false);
    } finally {
      fs.writeFileSync(`${ZRAM}/hot_remove`, number);
    }
  });

  it("writes over no file", async () => {
    fs.writeFileSync(out, "something");
    expect(await record("true")).toMatchObject({
      status: 1,
      stderr: expect.stringMatching(/is there already/),
    });
    expect(fs.readFileSync(out, "utf8")).toBe("something");
    expect(hasInstance(recorder)).toBe(false);
  });
});
