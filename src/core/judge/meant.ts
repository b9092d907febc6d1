import { SMALL_REQUEST, type JudgedClaim } from "../chain/claim";
import { runsOver } from "../chain/over";
import type { Part } from "../chain/part";
import { shapeOf } from "../drills/shape";
import type { Grounds, Trial } from "./verdict";

/**
 * Of what verdicts rest on, that which a claim is about: rigs in which the part stands and runs over the
 * link that the claim was printed for, and runs by the requests that it says. A rig of that link which
 * was measured by other requests only counts as not measured.
 */
export function meantBy(claim: JudgedClaim, part: Part, grounds: Grounds): Grounds {
  const { kind, over, block, depth } = claim;
  if (kind !== "iops" && [over, block, depth].every((said) => said === undefined)) return grounds;
  const of = grounds.trials.filter(({ rig }) => runsOver(claim, part, rig));
  const meant = of.filter((trial) => isMeant(claim, trial));
  const known = new Set(meant.map(({ rig }) => rig.id));
  const missing = new Map(
    of.filter(({ rig }) => !known.has(rig.id)).map((trial) => [trial.rig.id, unseen(trial)]),
  );
  return {
    ...grounds,
    trials: [...meant.map((trial) => asPrinted(claim, trial)), ...missing.values()],
  };
}

/** Whether a run was by the requests that a claim says; small ones of no size are of 4 KiB or more. */
function isMeant({ kind, block, depth }: JudgedClaim, { seen }: Trial): boolean {
  if (!seen) return true;
  const shape = shapeOf(seen.drill);
  if (block !== undefined && shape?.block !== block) return false;
  if (depth !== undefined && shape?.depth !== depth) return false;
  return kind !== "iops" || block !== undefined || (shape?.block ?? 0) >= SMALL_REQUEST;
}

/** Requests of the printed size are counted as they are. */
const asPrinted = ({ kind, block }: JudgedClaim, trial: Trial): Trial =>
  kind === "iops" && block !== undefined
    ? withOwn(trial, { observed: trial.seen?.repeats ?? null, larger: false })
    : trial;

const unseen = (trial: Trial): Trial =>
  withOwn(trial, { seen: null, observed: null, larger: false });

/** A trial with some of it replaced; its finding is only worked out where it is asked for. */
const withOwn = (
  trial: Trial,
  own: Partial<Pick<Trial, "seen" | "observed" | "larger">>,
): Trial => ({
  rig: trial.rig,
  evidence: trial.evidence,
  culprit: trial.culprit,
  seen: trial.seen,
  observed: trial.observed,
  larger: trial.larger,
  sustained: trial.sustained,
  ...own,
  get finding() {
    return trial.seen && trial.finding;
  },
});
