import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { askOn } from "@/services/hosts/ask-on";
import { readyHost, type ProgramReady } from "@/services/hosts/ready";
import { ROOT, nerrit } from "../support/command";
import { eachFirst, LONG } from "../support/long";
import { makeDisk, whyNoDevices, type Disk } from "../support/loop-device";
import { BUSYBOX, smallSystem } from "../support/small-system";
import { makeHosts, whyNoHosts, type SshHost, type SshHosts } from "../support/ssh-hosts";

const isBuilt = fs.existsSync(path.join(ROOT, "dist/programs/nerrit-measure"));

const why =
  (await whyNoHosts()) ?? whyNoDevices() ?? (isBuilt ? null : "there is no C compiler here");
if (why) console.warn(`skipped: hosts without a runtime (${why})`);

describe.skipIf(why)("a host without a runtime", () => {
  let made: SshHosts;
  let disk: Disk;
  let bare: SshHost;
  const folders: string[] = [];
  const small = (...given: Parameters<typeof smallSystem>) => {
    folders.push(smallSystem(...given));
    return folders.at(-1)!;
  };
  beforeAll(async () => {
    disk = makeDisk(300);
    made = await makeHosts([
      { name: "bare", env: { PATH: small() } },
      { name: "board", env: { PATH: small(["cc", "as", "ld"]) } },
      ...(BUSYBOX ? [{ name: "small", env: { PATH: small([], BUSYBOX) } }] : []),
    ]);
    [bare] = made.hosts as [SshHost];
  });
  afterAll(async () => {
    disk.remove();
    await made.remove();
    for (const folder of folders) fs.rmSync(folder, { recursive: true });
  });

  const surroundings = () => ({ NERRIT_SSH_CONFIG: made.config });
  const measure = (
    on: string,
    more: string[] = [],
    heard?: (said: string, pid: number) => void,
  ) => {
    const base = ["measure", "--on", on, "--target", disk.directory, "--json", "--reserve", "1MiB"];
    const usual = ["--direction", "read", "--span", "50MiB", "--repeats", "1"];
    let pid = 0;
    const took = (its: number) => (pid = its);
    const said = (text: string) => heard?.(text, pid);
    return nerrit([...base, ...usual, ...more], took, surroundings(), said);
  };
  /** A run of which every sample is there, once and in order, and of which nothing is left. */
  const isWhole = (stdout: string, host = bare) => {
    const { bytes, samples } = JSON.parse(stdout);
    const sum = samples.reduce((all: number, one: { bytes: number }) => all + one.bytes, 0);
    expect(sum).toBe(bytes);
    for (const [i, one] of samples.entries())
      if (i > 0) expect(one.from).toBeCloseTo(samples[i - 1].ms, 2);
    expect(fs.readdirSync(`${host.cache}/runs`)).toEqual([]);
    expect(fs.readdirSync(disk.directory).filter((name) => name.includes("nerrit"))).toEqual([]);
  };

  it("says so, and what measures there", async () => {
    const { stdout } = await nerrit(["hosts", "bare", "--json"], undefined, surroundings());
    expect(JSON.parse(stdout).hosts).toMatchObject([
      { facts: { node: null }, measurable: true, measuredBy: "program" },
    ]);
  });

  eachFirst<string, [string]>(BUSYBOX ? ["small"] : ["bare"], ["bare"])(
    "is measured by the small program, which is sent once: %s",
    async (name) => {
      const host = made.hosts.find((one) => one.name === name)!;
      const first = await measure(name, ["--seconds", "1"]);
      expect(first.status, first.stderr).toBe(0);
      isWhole(first.stdout, host);
      const kept = fs.readdirSync(host.cache).filter((one) => one.startsWith("program-"));
      expect(kept).toHaveLength(1);
      const seen: number[] = [];
      const again = await measure(name, ["--seconds", "3", "--progress"], (said) => {
        if (said.endsWith("\n") && said.includes("MB/s")) seen.push(host.traffic());
      });
      expect(again.status, again.stderr).toBe(0);
      // While it goes on, what travels is at most 20 kB a second: nothing to a link that is measured.
      expect(seen.at(-1)! - seen[0]!).toBeLessThan(3 * 20e3);
      expect(fs.readdirSync(host.cache).filter((one) => one.startsWith("program-"))).toEqual(kept);
    },
  );

  it("goes on with a run while the line is cut or broken off, and loses no sample of it", async () => {
    let [breaks, isCut, isMended] = [0, false, false];
    const run = await measure("bare", ["--seconds", "8", "--progress"], (said) => {
      const heard = said.split("MB/s").length - 1;
      if (heard > breaks && breaks < 3) [breaks] = [breaks + 1, bare.hangUp()];
      if (!isCut && heard > 5) [isCut] = [true, bare.cut()];
      if (isCut && !isMended && said.split("Out of touch").length > 1)
        [isMended] = [true, bare.mend()];
    });
    bare.mend();
    expect(run.status, run.stderr).toBe(0);
    expect(breaks).toBeGreaterThan(0);
    isWhole(run.stdout);
  });

  it(
    "ends a run that is stopped, and says of one whose program is killed that it ended",
    LONG,
    async () => {
      let isStopped = false;
      const long = ["--seconds", "60", "--progress"];
      const stopped = await measure("bare", long, (said, pid) => {
        if (!isStopped && said.includes("MB/s")) isStopped = process.kill(pid, "SIGINT");
      });
      expect(stopped.status).toBe(1);
      expect(stopped.stderr).toMatch(/nothing is left behind/);
      expect(fs.readdirSync(`${bare.cache}/runs`)).toEqual([]);
      let isKilled = false;
      const killed = await measure("bare", long, (said) => {
        if (!isKilled && said.includes("MB/s")) [isKilled] = [true, bare.killAll("nerrit-measure")];
      });
      expect(killed.status).toBe(1);
      expect(killed.stderr).toMatch(/ended before the run was over/);
      expect(JSON.parse(killed.stdout).samples.length).toBeGreaterThan(0);
      expect(fs.readdirSync(`${bare.cache}/runs`)).toEqual([]);
      expect(bare.programs()).not.toContain("nerrit-measure");
    },
  );

  it("says what the small program cannot do, and what is not there", LONG, async () => {
    const said = async (...args: string[]) =>
      (await nerrit(args, undefined, surroundings())).stderr;
    const base = ["measure", "--on", "bare", "--direction", "read"];
    const [here, none] = [
      ["--target", disk.directory],
      ["--target", "/no/such"],
    ];
    expect(await said(...base, ...none)).toMatch(/bare: There is no \/no\/such/);
    expect(await said(...base, "--drill", "convoy", ...here, "--target", "/tmp")).toMatch(
      /bare has no Node.*several drives/,
    );
    expect(await said("drives", "--on", "bare")).toMatch(/bare has no Node/);
    expect(await said("network", "bare")).toMatch(/bare has no Node/);
    expect(fs.readdirSync(`${bare.cache}/runs`)).toEqual([]);
  });

  it("compiles the program where what is built here is not to be had", LONG, async () => {
    const built = fs.mkdtempSync(path.join(os.tmpdir(), "nerrit-built-"));
    folders.push(built);
    fs.cpSync(path.join(ROOT, "dist/programs"), path.join(built, "programs"), { recursive: true });
    fs.rmSync(path.join(built, "programs/nerrit-measure"));
    process.env.NERRIT_SSH_CONFIG = made.config;
    try {
      await expect(readyHost("bare", built)).rejects.toThrow(/bare/);
      const ready = await readyHost("board", built);
      expect(ready.by).toBe("program");
      expect(fs.statSync((ready as ProgramReady).program).mode & 0o777).toBe(0o700);
      expect(
        await askOn(ready, { ask: "target", target: disk.directory, reserve: 0, cache: null }),
      ).toMatchObject({ facts: { kind: "directory", room: expect.any(Number) } });
    } finally {
      delete process.env.NERRIT_SSH_CONFIG;
    }
    const { stdout, stderr, status } = await measure("board", ["--seconds", "1"]);
    expect(status, stderr).toBe(0);
    isWhole(stdout, made.hosts[1]!);
  });
});
