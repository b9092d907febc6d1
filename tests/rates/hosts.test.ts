import fs from "node:fs";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { account } from "@/core/ledger/account";
import { modeOf } from "@/core/ledger/catalogue";
import { NetworkFigures, rowsOf } from "@/core/network/figures";
import { seeded } from "@/core/simulate/noise";
import { nerrit } from "../support/command";
import { makeDisk, whyNoThrottle, type Disk } from "../support/loop-device";
import { smallSystem } from "../support/small-system";
import { makeHosts, whyNoHosts, type SshHosts } from "../support/ssh-hosts";

const why = (await whyNoHosts()) ?? whyNoThrottle();
if (why) console.warn(`skipped: rates on another host (${why})`);

describe.skipIf(why)("a drive of another host, held to a rate by the kernel", () => {
  let made: SshHosts;
  let disk: Disk;
  let own: Disk;
  let small: string;
  const limit = (mbps: number, of = disk) => {
    for (const way of ["read", "write"])
      fs.writeFileSync(
        `/sys/fs/cgroup/blkio/blkio.throttle.${way}_bps_device`,
        `${of.number} ${mbps * 1e6}`,
      );
  };
  beforeAll(async () => {
    disk = makeDisk(600);
    own = makeDisk(300);
    small = smallSystem();
    made = await makeHosts([{ name: "lab2" }, { name: "board", env: { PATH: small } }]);
  });
  afterAll(async () => {
    limit(0);
    await made.remove();
    disk.remove();
    own.remove();
    fs.rmSync(small, { recursive: true });
  });

  const measured = async (direction: string, ...on: string[]) => {
    const args = ["measure", ...on, "--target", disk.directory, "--direction", direction];
    args.push("--seconds", "10", "--span", "200MiB", "--reserve", "1MiB", "--json");
    const { stdout, stderr } = await nerrit(args, undefined, { NERRIT_SSH_CONFIG: made.config });
    expect(stderr).toBe("");
    return (JSON.parse(stdout) as { meanMBps: number }).meanMBps;
  };

  it.each([
    ["read", 60],
    ["write", 60],
    ["read", 150],
    ["write", 150],
  ])("is measured within 1.5 % of that, and as here: %s, %i MB/s", async (direction, mbps) => {
    limit(mbps);
    const there = await measured(direction, "--on", "lab2");
    const here = await measured(direction);
    limit(0);
    console.log(`${direction} ${mbps} MB/s: there ${there.toFixed(2)}, here ${here.toFixed(2)}`);
    expect(Math.abs(there / mbps - 1)).toBeLessThan(0.015);
    expect(Math.abs(there / here - 1)).toBeLessThan(0.02);
  });

  it.each([
    ["read", 60],
    ["write", 150],
  ])(
    "is measured so also where a shell is all that the host has: %s, %i MB/s",
    async (way, mbps) => {
      limit(mbps);
      const there = await measured(way, "--on", "board");
      limit(0);
      console.log(`${way} ${mbps} MB/s by the small program: ${there.toFixed(2)}`);
      expect(Math.abs(there / mbps - 1)).toBeLessThan(0.015);
    },
  );

  it.each(["read", "write"])(
    "gets its share in a convoy with a drive that is here: %s",
    async (direction) => {
      limit(60);
      limit(40, own);
      const args = ["measure", "--drill", "convoy", "--direction", direction, "--seconds", "10"];
      args.push("--target", own.directory, "--target", `lab2:${disk.directory}`);
      args.push("--span", "100MiB", "--reserve", "1MiB", "--json");
      const { stdout, stderr } = await nerrit(args, undefined, { NERRIT_SSH_CONFIG: made.config });
      limit(0);
      limit(0, own);
      expect(stderr).toBe("");
      const told = JSON.parse(stdout) as { meanMBps: number; targets: { meanMBps: number }[] };
      const [here, there] = told.targets.map(({ meanMBps }) => meanMBps);
      console.log(`${direction}: here ${here}, there ${there}, together ${told.meanMBps} MB/s`);
      expect(Math.abs(here! / 40 - 1)).toBeLessThan(0.015);
      expect(Math.abs(there! / 60 - 1)).toBeLessThan(0.015);
      expect(Math.abs(told.meanMBps / 100 - 1)).toBeLessThan(0.015);
    },
  );

  it.each([
    ["lab2", 0],
    ["board", 1],
  ] as const)("loses no sample of a run on %s whose line breaks fifty times", async (name, at) => {
    limit(100);
    const random = seeded(29);
    let breaks = 0;
    let next = 0;
    const args = ["measure", "--on", name, "--target", disk.directory, "--direction", "read"];
    args.push("--seconds", "240", "--span", "200MiB", "--reserve", "1MiB", "--json", "--progress");
    const { stdout, stderr, status } = await nerrit(
      args,
      undefined,
      { NERRIT_SSH_CONFIG: made.config },
      () => {
        if (breaks === 50 || Date.now() < next) return;
        next = Date.now() + 300 + random() * 3000;
        breaks += 1;
        setTimeout(() => made.hosts[at]!.hangUp(), random() * 300);
      },
    );
    limit(0);
    expect(status, stderr).toBe(0);
    console.log(`${breaks} breaks, ${stderr.split("Out of touch").length - 1} of them seen`);
    expect(breaks).toBe(50);
    const { bytes, samples } = JSON.parse(stdout) as {
      bytes: number;
      samples: { from: number; ms: number; bytes: number }[];
    };
    expect(samples.reduce((all, one) => all + one.bytes, 0)).toBe(bytes);
    for (const [i, one] of samples.entries())
      if (i > 0) expect(one.from).toBeCloseTo(samples[i - 1]!.ms, 3);
    expect(fs.readdirSync(`${made.hosts[at]!.cache}/runs`)).toEqual([]);
    expect(fs.readdirSync(disk.directory)).toEqual([]);
  });

  it("sends little while a run goes on", async () => {
    limit(100);
    await measured("read", "--on", "lab2");
    const before = made.hosts[0]!.traffic();
    await measured("read", "--on", "lab2");
    const seconds = 10;
    limit(0);
    const rate = (made.hosts[0]!.traffic() - before) / seconds;
    console.log(`${(rate / 1e3).toFixed(1)} kB/s over the line, with what begins and ends a run`);
    expect(rate).toBeLessThan(20e3);
  });
});

describe.skipIf(why)("the network to a host, held to a rate", () => {
  let made: SshHosts;
  beforeAll(async () => {
    made = await makeHosts([{ name: "lab2" }]);
  });
  afterAll(() => made.remove());

  it.each([
    [100, "ethernet-100m"],
    [1000, "ethernet-1g"],
  ])("carries by itself what the ledger says, to a hundredth: %i Mb/s", async (megabits, mode) => {
    made.hosts[0]!.shape(megabits);
    const { stdout } = await nerrit(["network", "lab2", "--json"], undefined, {
      NERRIT_SSH_CONFIG: made.config,
    });
    const { hardCeiling } = account(modeOf(mode), "read");
    for (const { connections, rates } of rowsOf(NetworkFigures.parse(JSON.parse(stdout))))
      for (const way of ["read", "write"] as const) {
        const rate = rates[way]!.median;
        console.log(`${megabits} Mb/s, ${connections}, ${way}: ${(rate / hardCeiling).toFixed(4)}`);
        expect(Math.abs(rate / hardCeiling - 1)).toBeLessThan(0.01);
      }
  });
});
