import type { MeasurementRow } from "@/store/measurements";
import { formatSize } from "@/core/units/size";
import { targetsOf } from "@/core/study/measurement";
import type { EngineEvent, Sweep } from "@/core/run/protocol";
import { placeFrom, placeText } from "@/core/units/place";
import type { EngineProcess } from "./engine-process";
import type { Keeper } from "./keeper";
import { log } from "../log";

/** A measurement that ended with its measuring process, which could remove nothing any more. */
export type CutOff = Pick<MeasurementRow, "id" | "target"> & { reason: string; at: string };

/**
 * Removes the files that cut-off measurements left in their targets, and says of each measurement how much
 * that was. A measuring process does the work: a drive that does not answer holds up nothing in this one.
 *
 * @param sweep starts a measuring process on a machine; null for this one
 */
export async function clearLeftovers(
  cutOff: readonly CutOff[],
  keeper: Keeper,
  sweep: (
    host: string | null,
    job: Sweep,
    tell: (event: EngineEvent) => void,
  ) => Pick<EngineProcess, "ended">,
): Promise<void> {
  const places = [...new Set(cutOff.flatMap(targetsOf))].map(placeFrom);
  const freed = new Map<string, number>();
  for (const host of new Set(places.map((place) => place.host))) {
    const paths = places.flatMap((place) => (place.host === host ? [place.path] : []));
    const { ended } = sweep(host, { sweep: paths }, (event) => {
      if (event.event === "swept" && event.bytes > 0)
        freed.set(placeText({ host, path: event.target }), event.bytes);
    });
    await ended;
  }
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
