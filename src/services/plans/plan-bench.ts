import { setTimeout as pause } from "node:timers/promises";
import type { Rig } from "@/core/chain/rig";
import { placeOf } from "@/core/plan/place";
import { placeFrom } from "@/core/units/place";
import { disagreements } from "@/core/system/detected";
import type { SeenDrive } from "@/core/system/drive";
import type { Plugged } from "@/engine/plugged/follow";
import { thisMachine, type Machines } from "../hosts/machines";
import { isProblem } from "../problem";
import { drivesNow } from "../plugged/plugged";
import { askSystem } from "../plugged/system";

/** How often a host is asked what is plugged in there: each time somebody logs in. */
const ASK_MS = 3000;

/** What a plan sees of the bench: what is plugged in, whether it is the rig, and how warm it is. */
export class PlanBench {
  constructor(
    private readonly plugged: Plugged,
    readonly machines: Machines = thisMachine(),
  ) {}

  /** What is plugged in where a rig should be, and in what it is not that rig; null for nothing. */
  async look(
    rig: Rig,
    target: string,
    drives: readonly SeenDrive[],
  ): Promise<{ path: string; differs: string[] } | null> {
    const place = placeOf(rig, target, drives);
    if (!place) return null;
    try {
      const report = await askSystem({ path: place.path }, this.machines);
      return { path: place.path, differs: disagreements(rig, report).map(({ text }) => text) };
    } catch (error) {
      // It went away between the two.
      if (!isProblem(error)) throw error;
      return null;
    }
  }

  /** What is plugged in now at the machine of a target. */
  drives(target: string): Promise<SeenDrive[]> {
    return this.next(target, null, new AbortController().signal);
  }

  /**
   * Waits for a list of drives that differs from one already seen, at the machine of a target.
   *
   * @param before as text; null takes any
   * @param wake ends the waiting, at once where it was aborted before; the latest list is handed over then
   */
  next(target: string, before: string | null, wake: AbortSignal): Promise<SeenDrive[]> {
    const { host } = placeFrom(target);
    return host === null ? this.nextHere(before, wake) : this.nextOn(host, before, wake);
  }

  /** A host is asked again and again; one that is not reached has no drives. */
  private async nextOn(
    host: string,
    before: string | null,
    wake: AbortSignal,
  ): Promise<SeenDrive[]> {
    for (;;) {
      const drives = await drivesNow(this.machines, host).catch((error: unknown) => {
        if (!isProblem(error)) throw error;
        return [];
      });
      if (wake.aborted || JSON.stringify(drives) !== before) return drives;
      await passTime(ASK_MS, wake);
    }
  }

  private nextHere(before: string | null, wake: AbortSignal): Promise<SeenDrive[]> {
    return new Promise((resolve) => {
      let latest: SeenDrive[] | null = null;
      let over = false;
      const end = () => {
        // A waiting that is ended before the first list is there still hands that one over.
        if (over || !latest) return;
        over = true;
        queueMicrotask(() => leave());
        resolve(latest);
      };
      const leave = this.plugged.follow((drives) => {
        latest = drives;
        if (wake.aborted || JSON.stringify(drives) !== before) end();
      });
      wake.addEventListener("abort", end);
    });
  }

  /** The hottest that a drive says of itself, °C; null where it says nothing. */
  async temperature(target: string): Promise<number | null> {
    const { ways } = await askSystem({ path: target }, this.machines);
    const degrees = ways
      .flatMap(({ nodes }) => nodes.at(-1)?.facts ?? [])
      .filter(({ what }) => what.startsWith("temperature, "))
      .map(({ value }) => Number.parseFloat(value));
    return degrees.length > 0 ? Math.max(...degrees) : null;
  }
}

/** Waits, or until it is woken. */
export const passTime = (ms: number, wake: AbortSignal): Promise<void> =>
  pause(ms, undefined, { signal: wake }).catch(() => undefined);
