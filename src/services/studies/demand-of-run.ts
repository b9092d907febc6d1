import * as z from "zod";
import { demandOfWork, KEPT_UP_WITH, KeptUpWith } from "@/core/recording/demand";
import { busySeconds, lengthOf } from "@/core/trace/busy-seconds";
import { formatMoment } from "@/core/units/day";
import type { Store } from "@/store/database";
import * as rows from "@/store/runs";
import { checked, Problem } from "../problem";
import { openStudy } from "./studies";
import { setDemands } from "./change-study";

const Order = z.object({ keptUpWith: KeptUpWith });

/**
 * Adds what a run moved to the demands of its study: of a job that was watched, or read from a log.
 *
 * @returns the study's id
 * @throws Problem where there is no such run, it moved nothing, or the study has no room for one more demand
 */
export function demandFromRun(store: Store, runId: string, input: unknown): { studyId: string } {
  const { keptUpWith } = checked(Order, input);
  const found = rows.findRun(store, runId);
  if (!found) throw new Problem(404, "There is no such run.");
  const { run, studyId } = found;
  const samples = rows.samplesOfRun(store, runId);
  const moved = {
    seconds: lengthOf(samples),
    read: busySeconds(samples, "read"),
    write: busySeconds(samples, "write"),
  };
  const name = `Run of ${formatMoment(run.startedAt)}, ${KEPT_UP_WITH[keptUpWith]}`;
  const demand = demandOfWork(name, moved, keptUpWith);
  if (!demand)
    throw new Problem(422, "This run moved nothing. A demand of this run would ask for nothing.");
  const { study } = openStudy(store, studyId);
  setDemands(store, studyId, [...study.demands, demand]);
  return { studyId };
}
