import { CrossCheckOrder, type CrossCheckAnswer } from "@/core/cross-check/answer";
import { crossCheck } from "@/core/cross-check/cross-check";
import { pathRatesOf } from "@/core/cross-check/path-rates";
import { readStated } from "@/core/cross-check/stated-figure";
import type { Store } from "@/store/database";
import { openCompared } from "../conclusions/comparison";
import { checked, Problem } from "../problem";

/**
 * Holds what other programs show of a rig against the rig's own ladders.
 *
 * @throws Problem 404 for a study or rig that is not there, 422
 */
export function crossChecked(store: Store, studyId: string, input: unknown): CrossCheckAnswer {
  const { rigId, direction, text } = checked(CrossCheckOrder, input);
  const { rigs, evidence } = openCompared(store, studyId);
  if (!rigs.some(({ id }) => id === rigId)) throw new Problem(404, "This study has no such rig.");
  const path = pathRatesOf(evidence.of.get(rigId) ?? [], direction);
  const { figures, problems } = readStated(text);
  const check = path && figures.length > 0 ? crossCheck(path, figures) : null;
  return { hasLadder: path !== null, problems, check };
}
