import fs from "node:fs";
import path from "node:path";
import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, it } from "vitest";
import { readRecording } from "@/core/recording/recording-file";
import { tracingFolder } from "@/engine/record/trace-instance";
import { nerrit } from "../support/command";
import { LONG } from "../support/long";
import { makeDisk, whyNoDevices, type Disk } from "../support/loop-device";
import { makeHosts, whyNoHosts, type SshHost, type SshHosts } from "../support/ssh-hosts";

const why =
  (await whyNoHosts()) ??
  whyNoDevices() ??
  (tracingFolder() ? null : "needs the kernel's trace (tracefs)");
if (why) console.warn(`skipped: recording on hosts (${why})`);

describe.skipIf(why)("what reaches a drive of a host", () => {
  let made: SshHosts;
  let lab: SshHost;
  let disk: Disk;
  let folder: string;
  let out: string;
  beforeAll(async () => {
    disk = makeDisk(200);
    made = await makeHosts([{ name: "lab2" }]);
    [lab] = made.hosts as [SshHost];
  });
  afterAll(async () => {
    lab.mend();
    await made.remove();
    disk.remove();
  });
  beforeEach(() => {
    folder = fs.mkdtempSync("/dev/shm/nerrit-record-");
    out = path.join(folder, "work.jsonl");
  });
  afterEach(() => fs.rmSync(folder, { recursive: true }));

  const record = (args: string[], heard?: (said: string, pid: number) => void) => {
    let pid = 0;
    return nerrit(
      ["record", "--on", "lab2", "--out", out, "--progress", ...args],
      (its) => (pid = its),
      { NERRIT_SSH_CONFIG: made.config },
      (said) => heard?.(said, pid),
    );
  };
  const recording = () => readRecording(fs.readFileSync(out, "utf8"));
  const left = () => fs.readdirSync(`${lab.cache}/runs`);
  const read = `dd if=$0 of=/dev/null bs=4k count=2000 iflag=direct 2>/dev/null`;

  it("is recorded as here, with its work, and nothing stays there", async () => {
    const work = ["--", "sh", "-c", `${read}; exit 3`, disk.device];
    const { status, stderr, stdout } = await record([disk.device, ...work]);
    expect(status, stderr).toBe(3);
    expect(stdout).toContain(out);
    const { requests, end, head } = recording();
    expect(head.device).toBe(disk.device);
    expect(end).toMatchObject({ lost: 0, reason: null });
    const bytes = requests.reduce((sum, one) => sum + (one.kind === "read" ? one.bytes : 0), 0);
    expect(Math.abs(bytes / end.counted!.read - 1)).toBeLessThan(0.001);
    expect(bytes).toBeGreaterThanOrEqual(2000 * 4096);
    expect(left()).toEqual([]);
    // The work is done again there, from the recording, which is sent once.
    const encore = ["--drill", "encore", "--recording", out, "--target", disk.directory];
    const again = await nerrit(
      ["measure", "--on", "lab2", ...encore, "--repeats", "1", "--reserve", "1MiB", "--json"],
      undefined,
      { NERRIT_SSH_CONFIG: made.config },
    );
    expect(again.status, again.stderr).toBe(0);
    expect(JSON.parse(again.stdout).bytes).toBe(
      requests.reduce((sum, { kind, bytes: moved }) => sum + (kind === "flush" ? 0 : moved), 0),
    );
    expect(fs.readdirSync(lab.cache).filter((name) => name.startsWith("recording-"))).toHaveLength(
      1,
    );
  });

  it("is recorded on while the line is cut, and until it is stopped", LONG, async () => {
    let [isCut, isMended, isStopped] = [false, false, false];
    const work = ["--", "sh", "-c", `while ${read}; do :; done`, disk.device];
    const { stderr } = await record([`lab2:${disk.device}`, ...work], (said, pid) => {
      if (!isCut && said.includes("recorded")) [isCut] = [true, lab.cut()];
      if (!isMended && said.includes("Out of touch")) [isMended] = [true, lab.mend()];
      if (isMended && !isStopped && said.includes("In touch"))
        isStopped = process.kill(pid, "SIGINT");
    });
    expect([isCut, isMended, isStopped], stderr).toEqual([true, true, true]);
    const { requests, end } = recording();
    // The line was out of touch for longer than that, and the recording went on.
    expect(end.ms).toBeGreaterThan(15_000);
    const later = requests.filter(({ startUs }) => startUs > 15e6);
    expect(later.length).toBeGreaterThan(0);
    expect(left()).toEqual([]);
  });

  it("is kept as far as it came where the host's disk is full", LONG, async () => {
    let isFull = false;
    const work = ["--", "sh", "-c", `while ${read}; do :; done`, disk.device];
    const { status, stderr } = await record([disk.device, ...work], (said) => {
      if (isFull || !said.includes("recorded")) return;
      isFull = true;
      const file = fs.openSync(path.join(lab.home, "fill"), "w");
      try {
        for (;;) fs.writeSync(file, Buffer.alloc(1 << 12));
      } catch {
        fs.closeSync(file);
      }
    });
    fs.rmSync(path.join(lab.home, "fill"));
    expect(status).toBe(1);
    expect(stderr).toMatch(/its disk is full.*What came is/s);
    expect(recording().requests.length).toBeGreaterThan(0);
  });

  it("is not recorded where there is none, or no room here, and that is said", LONG, async () => {
    const none = await record(["/dev/no-such", "--", "true"]);
    expect(none.status).toBe(1);
    expect(none.stderr).toMatch(/no-such/);
    expect(fs.existsSync(out)).toBe(false);
    fs.writeFileSync(out, "the tester's own");
    const there = await record([disk.device, "--", "true"]);
    expect(there.stderr).toMatch(/is there already/);
    expect(fs.readFileSync(out, "utf8")).toBe("the tester's own");
    expect(left()).toEqual([]);
  });

  it("hangs on a way that is told as on the host itself", LONG, async () => {
    const surroundings = { NERRIT_SSH_CONFIG: made.config };
    const told = async (...args: string[]) =>
      JSON.parse((await nerrit(["probe", ...args, "--json"], undefined, surroundings)).stdout);
    const { at: _here, ...here } = await told(disk.directory);
    const { at: _there, ...there } = await told(`lab2:${disk.directory}`);
    expect(there).toEqual(here);
    const none = await nerrit(["probe", "--on", "lab2", "/no/such"], undefined, surroundings);
    expect(none.status).toBe(1);
    expect(none.stderr).toMatch(/lab2: .*no.such/);
  });
});
