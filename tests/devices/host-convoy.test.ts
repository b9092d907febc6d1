import fs from "node:fs";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { nerrit } from "../support/command";
import { LONG } from "../support/long";
import { makeDisk, whyNoDevices, type Disk } from "../support/loop-device";
import { smallSystem } from "../support/small-system";
import { makeHosts, whyNoHosts, type SshHost, type SshHosts } from "../support/ssh-hosts";

const why = (await whyNoHosts()) ?? whyNoDevices();
if (why) console.warn(`skipped: a convoy over several machines (${why})`);

interface Told {
  meanMBps: number;
  bytes: number;
  targets: { target: string; startedMs: number; meanMBps: number; bytes: number }[];
  samples: { from: number; ms: number; bytes: number; target: number }[];
}

describe.skipIf(why)("a convoy over several machines", () => {
  let made: SshHosts;
  let disks: Disk[];
  let small: string;
  let [lab, board]: SshHost[] = [];
  beforeAll(async () => {
    disks = [makeDisk(96), makeDisk(96), makeDisk(96)];
    small = smallSystem();
    made = await makeHosts([
      { name: "lab2" },
      { name: "board" },
      { name: "bare", env: { PATH: small } },
    ]);
    [lab, board] = made.hosts;
  });
  afterAll(async () => {
    await made.remove();
    for (const disk of disks) disk.remove();
    fs.rmSync(small, { recursive: true });
  });

  const places = () => {
    const [here, there, further] = disks.map(({ directory }) => directory);
    return [here!, `lab2:${there!}`, `board:${further!}`];
  };
  const convoy = (
    targets: string[],
    more: string[],
    heard?: (said: string, pid: number) => void,
  ) => {
    let pid = 0;
    const args = ["measure", "--drill", "convoy", ...targets.flatMap((one) => ["--target", one])];
    return nerrit(
      [...args, "--span", "32MiB", "--reserve", "1MiB", "--json", ...more],
      (its) => (pid = its),
      { NERRIT_SSH_CONFIG: made.config },
      (said) => heard?.(said, pid),
    );
  };
  const leftovers = () => [
    ...[lab!, board!].flatMap(({ cache }) =>
      fs.existsSync(`${cache}/runs`) ? fs.readdirSync(`${cache}/runs`) : [],
    ),
    ...disks.flatMap(({ directory }) =>
      fs.readdirSync(directory).filter((name) => name.includes("nerrit")),
    ),
  ];
  /** Every sample of every drive, once and in order, on one clock. */
  const isWhole = ({ samples, targets }: Told) => {
    targets.forEach((_, target) => {
      const own = samples.filter((one) => one.target === target);
      for (const [i, one] of own.entries())
        if (i > 0) expect(one.from).toBeCloseTo(own[i - 1]!.ms, 3);
    });
    const ends = samples.map(({ ms }) => ms);
    expect(ends).toEqual(ends.toSorted((a, b) => a - b));
  };

  it("gives each drive its rate and when it joined, and the total while all are at work", async () => {
    const { stdout, stderr, status } = await convoy(places(), [
      "--seconds",
      "3",
      "--every-seconds",
      "1",
      "--direction",
      "write",
    ]);
    expect([status, stderr]).toEqual([0, ""]);
    const told: Told = JSON.parse(stdout);
    expect(told.targets.map(({ target }) => target)).toEqual(places());
    isWhole(told);
    const [first, second, third] = told.targets.map(({ startedMs }) => startedMs);
    expect(first).toBe(0);
    // Each counts from when it was told to begin: on a busy machine that is not the same moment.
    expect(second).toBeGreaterThan(0);
    expect(third).toBeGreaterThan(second!);
    const sum = told.targets.reduce((all, one) => all + one.bytes, 0);
    expect(Math.abs(sum - told.bytes)).toBeLessThanOrEqual(3);
    expect(leftovers()).toEqual([]);
  });

  it("goes on while the line to one of them is cut, and loses no sample", async () => {
    let [isCut, isMended] = [false, false];
    const more = ["--seconds", "8", "--direction", "read", "--progress"];
    const { stdout, stderr, status } = await convoy(places(), more, (said) => {
      if (!isCut && said.includes("MB/s")) [isCut] = [true, lab!.cut()];
      if (!isMended && said.includes("Out of touch")) [isMended] = [true, lab!.mend()];
    });
    expect(status, stderr).toBe(0);
    expect([isCut, isMended]).toEqual([true, true]);
    const told: Told = JSON.parse(stdout);
    isWhole(told);
    expect(new Set(told.samples.map(({ target }) => target)).size).toBe(3);
    expect(leftovers()).toEqual([]);
  });

  it("ends everywhere where it is stopped, or where one of them fails, and says which", async () => {
    let isStopped = false;
    const more = ["--seconds", "60", "--direction", "read", "--progress"];
    const stopped = await convoy(places(), more, (said, pid) => {
      if (!isStopped && said.includes("MB/s")) isStopped = process.kill(pid, "SIGINT");
    });
    expect(stopped.status).toBe(1);
    expect(stopped.stderr).toMatch(/nothing is left behind/);
    expect(leftovers()).toEqual([]);
    const [here] = places();
    const refused = await convoy([here!, "lab2:/no/such/place"], more);
    expect(refused.status).toBe(1);
    expect(refused.stderr).toMatch(/On lab2: .*\/no\/such\/place/);
    expect(leftovers()).toEqual([]);
  });

  it("says that a host without a runtime cannot begin together with others", LONG, async () => {
    const [here, there] = places();
    const { stderr, status } = await convoy(
      [here!, there!.replace("lab2", "bare")],
      ["--direction", "read"],
    );
    expect(status).toBe(1);
    expect(stderr).toMatch(/bare has no Node, and .* several machines/);
    expect(leftovers()).toEqual([]);
  });
});
