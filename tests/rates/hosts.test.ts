import fs from "node:fs";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { nerrit } from "../support/command";
import { makeDisk, whyNoThrottle, type Disk } from "../support/loop-device";
import { makeHosts, whyNoHosts, type SshHosts } from "../support/ssh-hosts";

const why = whyNoHosts() ?? whyNoThrottle();
if (why) console.warn(`skipped: rates on another host (${why})`);

describe.skipIf(why)("a drive of another host, held to a rate by the kernel", () => {
  let made: SshHosts;
  let disk: Disk;
  const limit = (mbps: number) => {
    for (const way of ["read", "write"])
      fs.writeFileSync(
        `/sys/fs/cgroup/blkio/blkio.throttle.${way}_bps_device`,
        `${disk.number} ${mbps * 1e6}`,
      );
  };
  beforeAll(async () => {
    disk = makeDisk(600);
    made = await makeHosts([{ name: "lab2" }]);
  });
  afterAll(async () => {
    limit(0);
    await made.remove();
    disk.remove();
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
});
