import fs from "node:fs/promises";
import path from "node:path";
import type { Rig } from "@/core/chain/rig";
import type { Drill } from "@/core/drills/drill";
import { MeasureRequest } from "@/core/drills/request";
import { preflight, type PreflightFinding, type Surroundings } from "@/core/preflight/preflight";
import type { Fact } from "@/core/system/system-report";
import { deviceNumber, wholeDevice } from "@/engine/target/device";
import { targetFacts } from "@/engine/target/facts";
import { mountOf, readMounts } from "@/engine/target/mount";
import { SystemTree } from "@/engine/probe/tree";
import { lookForBusiness } from "@/engine/surroundings/busy";
import { onBattery, quietFacts } from "@/engine/surroundings/quiet";
import { deviceBelow, isMemory } from "@/engine/target/target";
import type { Store } from "@/store/database";
import { lastWriteTo } from "@/store/runs";
import { cacheOf } from "./cache";
import { orderFor } from "./order";
import { checked, isProblem, unrefused } from "../problem";
import { findRig } from "../studies/studies";
import { askSystem, systemRoot } from "../plugged/system";

/** What a run would meet, and what the system says that quietly costs speed. */
export interface Preflight {
  findings: PreflightFinding[];
  quiet: Fact[];
}

/**
 * Looks over what a measurement that is being asked for would meet; takes about a second.
 *
 * @param ownFolder where Nerrit's own data lies
 * @throws Problem where what is asked for makes no sense
 */
export async function lookBefore(
  store: Store,
  ownFolder: string,
  rigId: string,
  input: unknown,
  root = systemRoot(),
): Promise<Preflight> {
  const request = checked(MeasureRequest, { ...(input as object), rigId });
  const { rig } = findRig(store, rigId);
  const { drill, targets } = await orderFor(request, cacheOf(store, rig));
  const whole = { ...request, targets: targets.length };
  return look(store, rig, drill, whole, { ownFolder, root });
}

/** The same for a drill that is known exactly. */
export async function look(
  store: Store,
  rig: Rig,
  drill: Drill,
  {
    target,
    reserve,
    io,
    targets = 1,
  }: Pick<MeasureRequest, "target" | "reserve" | "io"> & { targets?: number },
  { ownFolder, root = systemRoot() }: { ownFolder: string; root?: string },
): Promise<Preflight> {
  const place = path.resolve(target);
  const tree = new SystemTree(root);
  const [facts, report] = await Promise.all([
    unrefused(targetFacts(place, reserve)),
    askSystem({ path: place }, root).catch((error: unknown) => {
      if (isProblem(error)) return null;
      throw error;
    }),
  ]);
  const below = facts ? await belowOf(place) : null;
  const around: Surroundings = {
    facts,
    report,
    space: below?.space ?? null,
    memory: below?.memory ?? false,
    shared: {
      system: await sameDevice(below?.device ?? null, "/"),
      own: await sameDevice(below?.device ?? null, ownFolder),
    },
    busy: await lookForBusiness(below?.device ?? null),
    onBattery: await onBattery(tree),
    lastWrite: lastWriteTo(store, rig.parts.at(-1)?.id ?? ""),
    targets,
  };
  return {
    findings: preflight(rig, drill, around, io === "buffered"),
    quiet: report ? await quietFacts(tree, report) : [],
  };
}

async function belowOf(place: string) {
  const stat = await fs.stat(place);
  if (stat.isBlockDevice()) {
    return { device: deviceNumber(stat.rdev), space: null, memory: false };
  }
  const mount = mountOf(await fs.realpath(place), await readMounts());
  const { bavail, blocks, bsize } = await fs.statfs(place);
  return {
    device: await deviceBelow(stat.dev, mount),
    space: { free: bavail * bsize, total: blocks * bsize },
    memory: mount !== null && isMemory(mount),
  };
}

/** Whether a path lies on the same physical device. */
async function sameDevice(device: string | null, other: string): Promise<boolean> {
  if (!device) return false;
  try {
    const { dev } = await fs.stat(other);
    const mount = mountOf(await fs.realpath(other), await readMounts());
    const there = await deviceBelow(dev, mount);
    return there !== null && (await wholeDevice(there)) === (await wholeDevice(device));
  } catch {
    return false;
  }
}
