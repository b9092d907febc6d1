import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { ROOT, nerrit } from "../support/command";
import { LONG } from "../support/long";
import { makeDisk, whyNoDevices, type Disk } from "../support/loop-device";
import { makeHosts, whyNoHosts, type SshHost, type SshHosts } from "../support/ssh-hosts";

/** Programs of a small system with a shell, and no runtime among them. */
const SMALL = "sh cat chmod date df find grep head ls mkdir mv rm sed sleep uname wc".split(" ");
const BUSYBOX = "/usr/bin/busybox";
const isBuilt = fs.existsSync(path.join(ROOT, "dist/programs/nerrit-measure"));

const why =
  (await whyNoHosts()) ?? whyNoDevices() ?? (isBuilt ? null : "there is no C compiler here");
if (why) console.warn(`skipped: hosts without a runtime (${why})`);

describe.skipIf(why)("a host without a runtime", () => {
  let made: SshHosts;
  let disk: Disk;
  let bare: SshHost;
  const folders: string[] = [];
  const programs = (place: (name: string) => string, more: string[] = []) => {
    const bin = fs.mkdtempSync(path.join(os.tmpdir(), "nerrit-bin-"));
    folders.push(bin);
    for (const name of [...SMALL, ...more]) fs.symlinkSync(place(name), path.join(bin, name));
    return bin;
  };
  beforeAll(async () => {
    disk = makeDisk(300);
    const of = (name: string) => `/bin/${name}`;
    made = await makeHosts([
      { name: "bare", env: { PATH: programs(of) } },
      { name: "board", env: { PATH: programs(of, ["cc", "as", "ld"]) } },
      ...(fs.existsSync(BUSYBOX)
        ? [{ name: "small", env: { PATH: programs(() => BUSYBOX) } }]
        : []),
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

  it.each(["bare", "small"].slice(0, fs.existsSync(BUSYBOX) ? 2 : 1))(
    "is measured by the small program, which is sent once: %s",
    async (name) => {
      const host = made.hosts.find((one) => one.name === name)!;
      const first = await measure(name, ["--seconds", "1"]);
      if (first.status !== 0) console.log(first.stderr);
      expect(first).toMatchObject({ status: 0, stderr: expect.any(String) });
      if (first.status) console.log(first.stderr);
      isWhole(first.stdout, host);
      const kept = fs.readdirSync(host.cache).filter((one) => one.startsWith("program-"));
      expect(kept).toHaveLength(1);
      const again = await measure(name, ["--seconds", "1", "--repeats", "2"]);
      expect(again).toMatchObject({ status: 0 });
      expect(fs.readdirSync(host.cache).filter((one) => one.startsWith("program-"))).toEqual(kept);
    },
  );
});
