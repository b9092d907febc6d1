import os from "node:os";
import type { Rig } from "@/core/chain/rig";
import type { Drill } from "@/core/drills/drill";
import { MeasureRequest } from "@/core/drills/request";
import { preflight, type PreflightFinding } from "@/core/preflight/preflight";
import type { Fact } from "@/core/system/system-report";
import { placeFrom } from "@/core/units/place";
import type { Store } from "@/store/database";
import { listMachineChecks } from "@/store/machine-checks";
import { lastWriteTo } from "@/store/runs";
import type { Machines } from "../hosts/machines";
import { cacheOf } from "./cache";
import { factsAt, orderFor } from "./order";
import { checked } from "../problem";
import { findRig } from "../studies/studies";

/** What a run would meet, and what the system says that quietly costs speed. */
export interface Preflight {
  findings: PreflightFinding[];
  quiet: Fact[];
}

/** Where a run is looked over: the machines that can be asked, and where Nerrit's own data lies. */
export interface Lookout {
  machines: Machines;
  ownFolder: string;
}

/**
 * Looks over what a measurement that is being asked for would meet; takes about a second.
 *
 * @throws Problem where what is asked for makes no sense
 */
export async function lookBefore(
  store: Store,
  lookout: Lookout,
  rigId: string,
  input: unknown,
): Promise<Preflight> {
  const request = checked(MeasureRequest, { ...(input as object), rigId });
  const { rig } = findRig(store, rigId);
  const order = await orderFor(request, cacheOf(store, rig), factsAt(lookout.machines));
  return look(store, rig, order.drill, { ...request, targets: order.places.length }, lookout);
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
  { machines, ownFolder }: Lookout,
): Promise<Preflight> {
  const { host, path } = placeFrom(target);
  const own = host === null ? ownFolder : null;
  const { around } = await machines.ask(host, { ask: "around", target: path, reserve, own });
  const lastWrite = lastWriteTo(store, rig.parts.at(-1)?.id ?? "");
  const machine = host ?? os.hostname();
  const check = listMachineChecks(store).find((one) => one.machine === machine) ?? null;
  return {
    findings: preflight(rig, drill, { ...around, lastWrite, targets, check }, io === "buffered"),
    quiet: around.quiet,
  };
}
