import * as z from "zod";
import { demandOfWork, KEPT_UP_WITH, KeptUpWith } from "@/core/recording/demand";
import { formatMoment } from "@/core/units/day";
import { openStudy } from "../studies/studies";
import { setDemands } from "../studies/change-study";
import { checked, Problem } from "../problem";
import type { Services } from "../services";

const Order = z.object({ studyId: z.string().min(1, "choose a study"), keptUpWith: KeptUpWith });

/**
 * Adds recorded work to the demands of a study.
 *
 * @param id of the recording
 * @returns the study's id
 * @throws Problem where there is no such recording or study, nothing was moved, or the study has no room for one
 *   more demand
 */
export async function demandFromRecording(
  { store, recordings }: Pick<Services, "store" | "recordings">,
  id: string,
  input: unknown,
): Promise<{ studyId: string }> {
  const { studyId, keptUpWith } = checked(Order, input);
  const asked = await recordings.told(id);
  const name = `Recorded ${formatMoment(recordings.startedAt(id))}, ${KEPT_UP_WITH[keptUpWith]}`;
  const demand = demandOfWork(name, asked, keptUpWith);
  if (!demand)
    throw new Problem(422, "Nothing was read or written in this recording: it asks for nothing.");
  const { study } = openStudy(store, studyId);
  setDemands(store, studyId, [...study.demands, demand]);
  return { studyId };
}
