import type { MeasuredRig } from "@/core/answer/lettered-rig";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { Desk } from "@/services/measuring/desk";
import { beginMeasurement } from "@/services/measuring/measure";
import { addPart } from "@/services/shelf/shelf";
import {
  addRig,
  createStudy,
  measurement,
  measurementsOf,
  openStudy,
} from "@/services/studies/studies";
import { answered } from "@/core/testing/answered";
import { readTrace, type Level } from "@/core/reading/read";
import { openStore, type Store } from "@/store/database";
import { ROOT, until } from "../support/command";
import { makeDisk, Throttle, whyNoThrottle, type Disk } from "../support/loop-device";

const why = whyNoThrottle();
if (why) console.warn(`skipped: measuring under the kernel's throttle (${why})`);

const RATES = [40, 120];

describe.skipIf(why)("a link whose rate the kernel enforces", () => {
  let disk: Disk;
  let throttle: Throttle;
  beforeAll(() => {
    disk = makeDisk(400);
    throttle = new Throttle(disk);
  });
  afterAll(() => {
    throttle.remove();
    disk.remove();
  });

  /**
   * What the kernel itself counted in a run's time, MB/s. Where the whole machine stood still, that
   * is less than it was set to let through, and the engine must have measured just that.
   */
  const letThrough = (run: { deviceBytes: number; ms: number }) => run.deviceBytes / run.ms / 1e3;
  const stoodStill = (run: { deviceBytes: number; ms: number }, rate: number) =>
    letThrough(run) < rate * 0.985;
  describe("in a study", () => {
    let folder: string;
    let store: Store;
    beforeAll(() => {
      folder = fs.mkdtempSync(path.join(os.tmpdir(), "nerrit-data-"));
      store = openStore(folder);
    });
    afterAll(() => {
      store.$client.close();
      fs.rmSync(folder, { recursive: true });
    });

    it("is named as the bottleneck of each rig", async () => {
      const desk = new Desk(store, folder, "test", path.join(ROOT, "dist/engine.mjs"));
      const study = createStudy(store, { title: "Two throttles" });
      const driveId = addPart(store, {
        kind: "drive",
        name: "Disk",
        connectors: [{ side: "up", modes: RATES.map((rate) => `stated-${rate}`) }],
        limits: { read: 900 },
      });
      const rigIds = RATES.map((rate) => {
        const port = addPart(store, {
          kind: "host-port",
          name: `Port ${rate}`,
          connectors: [{ side: "down", modes: [`stated-${rate}`] }],
        });
        return addRig(store, study, { name: `at ${rate}`, partIds: [port, driveId] });
      });
      for (const [i, rate] of RATES.entries()) {
        throttle.set(rate);
        throttle.hold(process.pid);
        const id = await beginMeasurement({ store, desk }, rigIds[i]!, {
          target: disk.directory,
          direction: "read",
          seconds: 3,
          repeats: 3,
          span: 64 * 2 ** 20,
          reserve: 2 ** 20,
          besideOwnData: true,
        });
        throttle.free(process.pid);
        await until("the run is over", () => measurement(store, id).status === "done");
      }
      const open = openStudy(store, study);
      const measured = measurementsOf(store, study);
      const told = answered(open.study, open.rigs, measured, "read");
      for (const [i, rate] of RATES.entries()) {
        const { finding } = told.rigs.find(({ rig }) => rig.id === rigIds[i]) as MeasuredRig;
        expect(finding.bottleneck.link?.mode?.id).toBe(`stated-${rate}`);
        expect(finding.efficiency).toBeLessThan(1.05);
        // Below its bottleneck is right where the machine stood still and the kernel let less through.
        const results = measured
          .filter(({ rigId }) => rigId === rigIds[i])
          .flatMap(({ runs }) => runs.flatMap(({ result }) => result ?? []));
        const full = results.every(
          ({ deviceBytes, ms }) => !stoodStill({ deviceBytes: deviceBytes!, ms }, rate),
        );
        expect(finding.kind === "at bottleneck" || !full).toBe(true);
      }
      const text = told.headline.flat().map((segment) => segment.text);
      expect(text.join("")).toMatch(/Port 40.*limits rig A/);
    });

    it("is read right where it changes in mid-run: at the second at which it did", async () => {
      const desk = new Desk(store, folder, "test", path.join(ROOT, "dist/engine.mjs"));
      const study = createStudy(store, { title: "A throttle that changes" });
      const rigId = addRig(store, study, {
        name: "changing",
        partIds: [
          addPart(store, {
            kind: "host-port",
            name: "Port",
            connectors: [{ side: "down", modes: ["stated-200"] }],
          }),
          addPart(store, {
            kind: "drive",
            name: "Disk",
            connectors: [{ side: "up", modes: ["stated-200"] }],
          }),
        ],
      });
      // Far below what a busy machine moves, so that the throttle is what limits. Where the machine stood
      // still for seconds, the trace has no samples of them and cannot show the change: once more.
      const [fast, slow] = [30, 10];
      const seen: string[] = [];
      for (let attempt = 0; attempt < 8; attempt++) {
        throttle.set(fast);
        throttle.hold(process.pid);
        const id = await beginMeasurement({ store, desk }, rigId, {
          target: disk.directory,
          direction: "read",
          seconds: 12,
          repeats: 1,
          span: 64 * 2 ** 20,
          reserve: 2 ** 20,
          besideOwnData: true,
        });
        const live = () => measurement(store, id).runs[0]?.samples.at(-1)?.ms ?? 0;
        await until("some of it is over", () => live() > 4000);
        throttle.set(slow);
        const changed = live();
        throttle.free(process.pid);
        await until("the run is over", () => measurement(store, id).status === "done");
        const { levels } = readTrace({ samples: measurement(store, id).runs[0]!.samples });
        if (isReadRight(levels, changed, fast, slow)) return;
        seen.push(JSON.stringify({ changed, levels }));
      }
      expect.fail(`The change was never read right: ${seen.join("; ")}`);
    });
  });
});

/** Whether a trace's levels show both rates to a tenth, and the change within two seconds. */
function isReadRight(
  levels: readonly Level[],
  changed: number,
  fast: number,
  slow: number,
): boolean {
  const at = levels.findIndex(({ fromMs }) => Math.abs(fromMs - changed) < 2000);
  if (at <= 0) return false;
  // The machine itself may stand still now and then; that is a stall, or a level of its own.
  const longest = (some: readonly Level[]) =>
    some.toSorted((a, b) => b.toMs - b.fromMs - (a.toMs - a.fromMs))[0]!;
  const near = (level: Level, rate: number) => Math.abs(level.rateMBps / rate - 1) < 0.1;
  return near(longest(levels.slice(0, at)), fast) && near(longest(levels.slice(at)), slow);
}
