import { spawn } from "node:child_process";
import { once } from "node:events";
import fs from "node:fs";
import os from "node:os";
import { createInterface } from "node:readline";
import fc from "fast-check";
import { describe, expect, it } from "vitest";
import {
  COUNTED_NAME,
  countersQuestion,
  farReading,
  LoadTally,
  LookReader,
  type HostLook,
} from "./counters";

/** As kernels of several ages write them. */
const LOOK = `Welcome!
nerrit-look
93784.53 187000.11
cpu0 100 0 100 700 100 0 0 0 0 0
cpu1 10 0 10 980 0 0 0 0 0 0
MemTotal:        1000000 kB
MemAvailable:     250000 kB
   8       0 sda 10 0 200 30 40 0 600 70 0 80 90 0 0 0 0 5 6
   8       1 sda1 10 0 200 30 40 0 600 70 0 80 90
  eth0: 1234 5 0 0 0 0 0 0 5678 9 0 0 0 0 0 0
wlan0:1 2 3 4 5 6 7 8 9 10 11 12 13 14 15 16
nerrit-look
`;
const looksIn = (text: string) => {
  const reader = new LookReader();
  return text.split("\n").flatMap((line) => reader.take(line) ?? []);
};

describe("a host's counters", () => {
  it("are read of drives, interfaces, cores and memory, whatever else is said", () => {
    const [look, ...more] = looksIn(LOOK);
    expect(more).toEqual([]);
    expect(look).toMatchObject({ upMs: 93_784_530, memory: 0.75 });
    expect(look!.cores).toEqual([
      { busy: 200, total: 1000 },
      { busy: 20, total: 1000 },
    ]);
    const sda = { kind: "device", read: 200 * 512, written: 600 * 512, requests: 50, busyMs: 80 };
    expect(Object.fromEntries(look!.counts)).toEqual({
      sda,
      sda1: sda,
      eth0: { kind: "interface", read: 1234, written: 5678, requests: 0, busyMs: null },
      wlan0: { kind: "interface", read: 1, written: 9, requests: 0, busyMs: null },
    });
  });

  it("give what was done between two looks, and nothing across a start of the host", () => {
    const [before] = looksIn(LOOK);
    const [after] = looksIn(
      LOOK.replace("93784.53", "93786.53")
        .replace("cpu0 100 0 100 700 100", "cpu0 250 0 100 750 100")
        .replaceAll("200 30 40 0 600 70 0 80 90", "8200 30 40 0 600 70 0 1080 90")
        .replace("5678", "4005678"),
    );
    const told = farReading("router", before!, after!)!;
    expect(told).toMatchObject({ host: "router", cores: [75], memory: 0.75 });
    // 8 000 sectors of 512 B, and 4 MB, in 2 s; the drive had something to do for 1 s of them.
    expect(told.moved.sda).toEqual({ kind: "device", read: 2.048, written: 0, busy: 0.5 });
    expect(told.moved.eth0).toEqual({ kind: "interface", read: 0, written: 2, busy: null });
    expect(farReading("router", after!, before!)).toBeNull();
    expect(farReading("router", before!, before!)).toBeNull();
  });

  it("are none where lines make no sense", () => {
    fc.assert(
      fc.property(fc.array(fc.oneof(fc.string(), fc.constant("nerrit-look"))), (lines) => {
        for (const look of looksIn(lines.join("\n"))) expect(look.upMs).toBeGreaterThanOrEqual(0);
      }),
    );
  });

  it.each(["a b", "../x", "-x", "x/y", "x'y", "x.*", ""])("are not asked for of %j", (name) =>
    expect(name).not.toMatch(COUNTED_NAME),
  );

  it.skipIf(os.platform() !== "linux")("come from a shell, until nobody reads them", async () => {
    const shell = spawn("sh", ["-c", countersQuestion(["lo"])], {
      stdio: ["ignore", "pipe", "inherit"],
    });
    const over = once(shell, "exit");
    const reader = new LookReader();
    const looks: HostLook[] = [];
    for await (const line of createInterface({ input: shell.stdout })) {
      const look = reader.take(line);
      if (look) looks.push(look);
      if (looks.length === 2) break;
    }
    shell.stdout.destroy();
    await over;
    const [first, second] = looks;
    expect(second!.upMs).toBeGreaterThan(first!.upMs);
    expect(first!.cores).toHaveLength(
      fs.readFileSync("/proc/stat", "utf8").match(/^cpu\d/gm)!.length,
    );
    expect(first!.counts.get("lo")?.kind).toBe("interface");
    expect(first!.memory).toBeGreaterThan(0);
  });
});

describe("a host's load", () => {
  const look = (upMs: number, busy: number[]): HostLook => ({
    upMs,
    counts: new Map(),
    cores: busy.map((ticks) => ({ busy: ticks, total: upMs / 10 })),
    memory: null,
  });

  it("is that of the core that was busiest on the whole", () => {
    const tally = new LoadTally();
    tally.add(look(0, [0, 0]));
    expect(tally.load.core).toBeNull();
    tally.add(look(1000, [100, 50]));
    tally.add(look(2000, [100, 130]));
    expect(tally.load).toEqual({
      seconds: 2,
      core: { number: 1, now: 0.8, mean: 0.65, peak: 0.8 },
      memory: null,
    });
  });

  it("begins anew where the host was started anew", () => {
    const tally = new LoadTally();
    tally.add(look(50_000, [4000]));
    tally.add(look(1000, [10]));
    expect(tally.load.seconds).toBe(0);
    tally.add(look(2000, [60]));
    expect(tally.load.core).toEqual({ number: 0, now: 0.5, mean: 0.5, peak: 0.5 });
  });
});
