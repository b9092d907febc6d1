import type { MeasurementRow } from "@/store/measurements";
import { formatSize } from "@/core/units/size";
import { targetsOf } from "@/core/study/measurement";
import { startEngine } from "./engine-process";
import type { Keeper } from "./keeper";
import { log } from "../log";

/** A measurement that ended with its measuring process, which could remove nothing any more. */
export type CutOff = Pick<MeasurementRow, "id" | "target"> & { reason: string; at: string };

/**
 * Removes the files that cut-off measurements left in their targets, and says of each measurement how much
 * that was. A measuring process does the work: a drive that does not answer holds up nothing in this one.
 */
export async function clearLeftovers(
  cutOff: readonly CutOff[],
  keeper: Keeper,
  engineFile?: string,
): Promise<void> {
  const targets = [...new Set(cutOff.flatMap(targetsOf))];
  if (targets.length === 0) return;
  const freed = new Map<string, number>();
  const { ended } = startEngine(
    { sweep: targets },
    (event) => event.event === "swept" && event.bytes > 0 && freed.set(event.target, event.bytes),
    engineFile,
  );
  await ended;
  for (const { id, target, reason, at } of cutOff) {
    const own = targetsOf({ target }).filter((one) => freed.has(one));
    if (own.length === 0) continue;
    const told = own.map((one) => `${formatSize(freed.get(one)!, 1000)} in ${one}`).join(" and ");
    const more = `${reason} The files that the run had left are removed: ${told}.`;
    keeper.keep({ do: "end", id, status: "interrupted", reason: more, at });
    log.info({ id, freed: told }, "what a run had left is removed");
    own.forEach((one) => freed.delete(one));
  }
}
