import { createHash } from "node:crypto";
import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { DRILLS } from "@/core/drills/catalogue";
import { nerrit, nerritAt, type Finished } from "../support/command";
import { eachFirst, LONG } from "../support/long";
import { makeDisk, Throttle, whyNoThrottle, type Disk } from "../support/loop-device";

const why = whyNoThrottle();
if (why) console.warn(`skipped: every drill on real disks (${why})`);

const MIB = 2 ** 20;

describe.skipIf(why)("every drill on real disks", () => {
  let a: Disk;
  let b: Disk;
  beforeAll(() => {
    a = makeDisk(300);
    b = makeDisk(300);
  });
  afterAll(() => {
    a.remove();
    b.remove();
  });

  const left = () => [...fs.readdirSync(a.directory), ...fs.readdirSync(b.directory)];
  const said = (finished: Finished) => {
    expect(finished.stderr).toBe("");
    expect(finished.status).toBe(0);
    const document = JSON.parse(finished.stdout);
    for (const key of ["drill", "meanMBps", "iops", "bytes", "ms", "deviceBytes", "latencyUs"]) {
      expect(document, key).toHaveProperty(key);
    }
    for (const key of ["samples", "events", "errors", "runs"]) {
      expect(Array.isArray(document[key]), key).toBe(true);
    }
    expect(document.conditions.device).toMatch(/^loop/);
    expect(document.meanMBps).toBeGreaterThan(0);
    expect(left()).toEqual([]);
    return document;
  };
  const measure = async (drill: string, ...more: string[]) =>
    said(
      await nerrit([
        "measure",
        "--drill",
        drill,
        "--target",
        a.directory,
        "--reserve",
        "1MiB",
        "--json",
        ...more,
      ]),
    );

  it("Scatter mixes reading and writing as it is told, and times each by itself", async () => {
    const asked = [
      "--direction",
      "mixed",
      "--write-share",
      "25%",
      "--seconds",
      "1",
      "--span",
      "16MiB",
    ];
    const { runs, samples } = await measure("scatter", ...asked, "--depth", "4");
    const [step] = runs[0].steps;
    expect(step.written / step.bytes).toBeGreaterThan(0.23);
    expect(step.written / step.bytes).toBeLessThan(0.27);
    for (const way of ["read", "write"]) {
      const { p50, p99, p9999, max } = step[way];
      expect([p50, p99, p9999, max]).toEqual([p50, p99, p9999, max].toSorted((x, y) => x - y));
    }
    expect(samples.some((s: { written: number }) => s.written > 0)).toBe(true);
  });

  it(
    "goes on until it is steady where that is asked, and says after how many rounds",
    LONG,
    async () => {
      const asked = [
        "--direction",
        "read",
        "--seconds",
        "0.5",
        "--span",
        "16MiB",
        "--steady",
        "yes",
      ];
      const { steady } = await measure("scatter", ...asked);
      expect(steady.rounds).toBeGreaterThanOrEqual(5);
      expect(steady.rounds).toBeLessThanOrEqual(25);
    },
  );

  it("Stride ladder has a step for each block, and a fit", LONG, async () => {
    const asked = ["--direction", "read", "--blocks", "4KiB,64KiB 1MiB", "--seconds", "0.5"];
    const { steps, fit } = await measure("stride-ladder", ...asked, "--span", "32MiB");
    expect(steps.map(({ block }: { block: number }) => block)).toEqual([4096, 65536, MIB]);
    for (const step of steps) {
      expect(step.iops * step.block).toBeCloseTo(step.meanMBps * 1e6, -2);
      expect(step.latencyUs.p50).toBeGreaterThan(0);
    }
    expect(fit).toMatchObject({ by: "block", overheadUs: expect.any(Number) });
  });

  it("Depth ladder goes deep, by threads and by the kernel's ring", async () => {
    const asked = ["--direction", "read", "--depths", "1 32 256", "--seconds", "0.5"];
    const { steps, fit, conditions } = await measure("depth-ladder", ...asked, "--span", "32MiB");
    expect(steps.map(({ depth }: { depth: number }) => depth)).toEqual([1, 32, 256]);
    expect(fit).toMatchObject({ by: "depth", singleIops: expect.any(Number) });
    expect(["ring", "native"]).toContain(conditions.lane);
  });

  it("Long fill writes what it is told, and says what it sustained", async () => {
    const { bytes, burstMBps, sustainedMBps, flushMs } = await measure(
      "long-fill",
      "--size",
      "120MiB",
    );
    expect(bytes).toBe(120 * MIB);
    expect(burstMBps).toBeGreaterThan(0);
    expect(sustainedMBps).toBeGreaterThan(0);
    expect(flushMs).toBeGreaterThanOrEqual(0);
  });

  it("Long fill ends by the share of the room there is", LONG, async () => {
    const { drill } = await measure("long-fill", "--share", "10%");
    expect(drill.size).toBeLessThan(31 * MIB);
    expect(drill.size).toBeGreaterThan(20 * MIB);
  });

  it("Traverse goes over a file, and over a whole device that it only reads", LONG, async () => {
    const asked = ["--direction", "read", "--places", "6", "--seconds", "0.5", "--span", "60MiB"];
    const { steps } = await measure("traverse", ...asked);
    expect(steps.map(({ position }: { position: number }) => position / MIB)).toEqual([
      0, 10, 20, 30, 40, 50,
    ]);
    const device = await nerrit([
      "measure",
      "--drill",
      "traverse",
      "--target",
      b.device,
      "--direction",
      "read",
      "--places",
      "4",
      "--seconds",
      "0.5",
      "--json",
    ]);
    const whole = said(device).steps;
    expect(whole).toHaveLength(4);
    expect(whole.at(-1).position).toBe(225 * MIB);
  });

  it("Rest and return fills, rests and fills again", LONG, async () => {
    const { steps } = await measure("rest-and-return", "--fill", "30MiB", "--rests", "0.5 1");
    expect(steps.map(({ restSeconds }: { restSeconds: number }) => restSeconds)).toEqual([
      0, 0.5, 1,
    ]);
    expect(steps.every(({ bytes }: { bytes: number }) => bytes === 30 * MIB)).toBe(true);
  });

  it("Round reports its steps by the tester's names", LONG, async () => {
    const steps = JSON.stringify([
      { name: "open", drill: "scatter", direction: "read", set: { seconds: 0.5, span: 16 * MIB } },
      {
        name: "copy in",
        drill: "ferry",
        direction: "write",
        set: { mix: [{ files: 9, bytes: 70_001 }] },
      },
      { name: "save", drill: "haul", direction: "write", set: { seconds: 0.5, span: 16 * MIB } },
    ]);
    const document = await measure("round", "--work", "a day", "--steps", steps);
    expect(document.steps.map(({ name }: { name: string }) => name)).toEqual([
      "open",
      "copy in",
      "save",
    ]);
  });

  it("keeps what there is when it is stopped, and leaves nothing behind", async () => {
    const asked = ["--direction", "read", "--blocks", "4KiB 8KiB 16KiB 32KiB 64KiB"];
    const { status, stdout, stderr } = await nerritAt(
      [
        "measure",
        "--drill",
        "stride-ladder",
        "--target",
        a.directory,
        ...asked,
        "--seconds",
        "2",
        "--span",
        "16MiB",
        "--reserve",
        "1MiB",
        "--json",
      ],
      /step 2 of 5/,
      (pid) => process.kill(pid, "SIGINT"),
    );
    expect(status).toBe(1);
    expect(stderr).toMatch(/stopped before the end; what had been measured is above/);
    const { steps } = JSON.parse(stdout);
    expect(steps.length).toBeGreaterThan(0);
    expect(steps.length).toBeLessThan(5);
    expect(left()).toEqual([]);
  });

  describe("between two of which one is slow", () => {
    const source = () => {
      const folder = fs.mkdtempSync(path.join(a.directory, "mine-"));
      for (let i = 0; i < 30; i++) {
        fs.writeFileSync(path.join(folder, `f${i}`), Buffer.alloc(40_000 * (i + 1), i));
      }
      return folder;
    };
    const under = async (slow: Disk, mbps: number, args: string[]) => {
      const throttle = new Throttle(slow);
      throttle.set(mbps);
      try {
        return await nerrit([...args, "--reserve", "1MiB", "--json"], (pid) => throttle.hold(pid));
      } finally {
        throttle.remove();
      }
    };

    it("Long fill ends by time, too, long before the room there is", LONG, async () => {
      const finished = await under(b, 8, [
        "measure",
        "--drill",
        "long-fill",
        "--target",
        b.directory,
        "--seconds",
        "0.5",
      ]);
      expect(finished.stderr).toBe("");
      expect(JSON.parse(finished.stdout).bytes).toBeLessThan(150 * MIB);
      expect(left()).toEqual([]);
    });

    eachFirst(
      ["from", "write"],
      ["to", "write"],
      ["from", "read"],
      ["to", "read"],
    )(
      "Ferry names the side that was waited for: %s, as a drill that is a %s one",
      async (role, direction) => {
        const folder = source();
        const before = digestOf(folder);
        // So slow that a machine busy with other things hardly adds to it.
        const finished = await under(role === "from" ? a : b, 4, [
          "measure",
          "--drill",
          "ferry",
          "--from",
          folder,
          "--to",
          b.directory,
          "--direction",
          direction,
          "--verify",
          "yes",
        ]);
        expect(finished.stderr).toBe("");
        const document = JSON.parse(finished.stdout);
        expect(document.waitedFor).toBe(role);
        expect(document.files).toBe(30);
        expect(document.verified).toBe(30);
        expect(document.differing).toEqual([]);
        const waited = Object.fromEntries(
          document.sides.map((side: { role: string; waitedMs: number }) => [
            side.role,
            side.waitedMs,
          ]),
        );
        const ends = Object.fromEntries(
          document.sides.map((side: { role: string; target: string }) => [side.role, side.target]),
        );
        expect(ends).toEqual({ from: folder, to: b.directory });
        expect(waited[role]).toBeGreaterThan(waited[role === "from" ? "to" : "from"]);
        expect(digestOf(folder)).toBe(before);
        fs.rmSync(folder, { recursive: true });
        expect(left()).toEqual([]);
      },
    );

    it(
      "Ferry writes nothing where a link is put in place of its folder in mid-run, and does not trust the run",
      LONG,
      async () => {
        const elsewhere = fs.mkdtempSync(path.join(os.tmpdir(), "nerrit-private-"));
        const throttle = new Throttle(b);
        throttle.set(2);
        try {
          const { status, stderr } = await nerritAt(
            [
              "measure",
              "--drill",
              "ferry",
              "--to",
              b.directory,
              "--mix",
              "600 x 64KiB",
              "--reserve",
              "1MiB",
            ],
            /\d s.* MB\/s/,
            () => {
              const [made] = fs
                .readdirSync(b.directory)
                .filter((name) => name.startsWith(".nerrit"));
              const at = path.join(b.directory, made!);
              fs.renameSync(at, `${at}-moved`);
              fs.symlinkSync(elsewhere, at);
            },
            (pid) => throttle.hold(pid),
          );
          expect(fs.readdirSync(elsewhere)).toEqual([]);
          expect(status).toBe(1);
          expect(stderr).toMatch(/was moved or exchanged during the copy/);
        } finally {
          throttle.remove();
          for (const name of fs.readdirSync(b.directory))
            if (name.startsWith(".nerrit"))
              fs.rmSync(path.join(b.directory, name), { recursive: true });
          fs.rmSync(elsewhere, { recursive: true });
        }
      },
    );

    it("Ferry leaves the reserve free, whatever the tester's folder holds", LONG, async () => {
      const folder = source(); // 18.6 MB
      const { bavail, bsize } = fs.statfsSync(b.directory);
      const { status, stderr } = await nerrit([
        "measure",
        "--drill",
        "ferry",
        "--from",
        folder,
        "--to",
        b.directory,
        "--reserve",
        String(bavail * bsize - 8 * MIB),
        "--json",
      ]);
      expect(status).toBe(1);
      expect(stderr).toMatch(/The folder holds 17.7 MiB.* stay as a reserve/);
      fs.rmSync(folder, { recursive: true });
      expect(left()).toEqual([]);
    });

    it("Ferry leaves the copy where it is to stay, in a folder of its own", async () => {
      const folder = source();
      const finished = await nerrit([
        "measure",
        "--drill",
        "ferry",
        "--from",
        folder,
        "--to",
        b.directory,
        "--keep",
        "yes",
        "--reserve",
        "1MiB",
        "--json",
      ]);
      const { kept } = JSON.parse(finished.stdout);
      expect(path.dirname(kept)).toBe(b.directory);
      expect(fs.readdirSync(kept).sort()).toEqual(fs.readdirSync(folder).sort());
      expect(digestOf(kept)).toBe(digestOf(folder));
      fs.rmSync(kept, { recursive: true });
      fs.rmSync(folder, { recursive: true });
    });

    it("Convoy gives each its rate and when it joined, and the total while all are at work", async () => {
      const finished = await under(b, 8, [
        "measure",
        "--drill",
        "convoy",
        "--target",
        a.directory,
        "--target",
        b.directory,
        "--seconds",
        "3",
        "--every-seconds",
        "1",
        "--span",
        "64MiB",
      ]);
      const { targets, meanMBps, samples } = JSON.parse(finished.stdout);
      expect(targets.map(({ target }: { target: string }) => target)).toEqual([
        a.directory,
        b.directory,
      ]);
      const [first, second] = targets;
      expect(first.startedMs).toBe(0);
      expect(second.startedMs).toBeGreaterThanOrEqual(1000);
      expect(second.meanMBps).toBeLessThan(16);
      expect(first.meanMBps).toBeGreaterThan(second.meanMBps);
      expect(meanMBps).toBeGreaterThan(second.meanMBps);
      expect(new Set(samples.map(({ target }: { target: number }) => target))).toEqual(
        new Set([0, 1]),
      );
    });
  });
});

/** One value for the names and contents of a folder's files. */
function digestOf(folder: string): string {
  const hash = createHash("sha256");
  for (const name of fs.readdirSync(folder).sort()) {
    hash.update(name).update(fs.readFileSync(path.join(folder, name)));
  }
  return hash.digest("hex");
}

describe("nerrit drills", () => {
  it("lists every drill with what can be set of it, and why", async () => {
    const { status, stdout } = await nerrit(["drills", "--json"]);
    expect(status).toBe(0);
    const listed = JSON.parse(stdout) as {
      name: string;
      parameters: { option: string; reason: string }[];
    }[];
    expect(listed.map(({ name }) => name)).toEqual(DRILLS.map(({ name }) => name));
    for (const { option, reason } of listed.flatMap(({ parameters }) => parameters)) {
      expect(option).toMatch(/^--[a-z-]+$/);
      expect(reason.length).toBeGreaterThan(5);
    }
  });

  it("reads well in a terminal 80 wide, and follows from a target", async () => {
    const { stdout } = await nerrit(["drills", "haul", "--target", os.tmpdir()]);
    expect(stdout).toMatch(/^haul: Haul, sequential/);
    expect(stdout).toMatch(/--span .+MiB|--span .+GiB/);
    for (const line of stdout.split("\n")) expect(line.length).toBeLessThanOrEqual(100);
    expect((await nerrit(["drills", "sprint"])).stderr).toMatch(/no drill "sprint"/);
    expect((await nerrit(["drills", "--target", "/no/such"])).status).toBe(1);
  });

  it.each([
    [["--drill", "ferry"], /--from/],
    [
      ["--drill", "haul", "--target", "/tmp", "--direction", "read", "--places", "3"],
      /of traverse/,
    ],
    [["--drill", "convoy", "--target", "/tmp", "--direction", "read"], /two drives/],
    [
      ["--drill", "haul", "--target", "/tmp", "--target", "/var", "--direction", "read"],
      /one drive/,
    ],
    [["--drill", "long-fill", "--target", "/tmp", "--direction", "read"], /only/],
    [["--drill", "haul", "--target", "/tmp", "--from", "/tmp", "--direction", "read"], /ferry/],
    [["--drill", "ferry", "--to", "/tmp", "--mix", "many"], /files and sizes|--mix/],
  ])("takes %j for wrong usage", async (args, words) => {
    const { status, stderr } = await nerrit(["measure", ...args]);
    expect(stderr).toMatch(words);
    expect(status).toBe(2);
  });
});
