import type { Conclusions } from "../conclude/conclusions";
import type { Judged } from "../judge/judged";
import { tellChange } from "../locate/findings/sentences";
import { askOf } from "../locate/findings/shown";
import type { NextSwap } from "../locate/steps/next-swap";
import type { Located } from "../locate/locate";
import { setUpKey } from "../chain/set-up";
import { capital } from "../chain/wording";
import { isHostSpoiled, isOf } from "../study/measurement";
import type { Ask } from "../study/asked-rig";
import { DOING, type Direction } from "../units/rate";
import { isFinding, isOpen, type CauseGroup } from "./cause-group";
import type { LetteredRig } from "./lettered-rig";
import { rigsCalled } from "./figures";

/** The one step that would settle most next. */
export interface NextStep {
  /** What to do, as an order without a full stop. */
  text: string;
  /** What it is for: "for rigs D and E"; empty where the order says it. */
  why: string;
  /** Minutes by hand; null where that is not known. */
  minutes: number | null;
  go:
    | { kind: "rigs" | "judge" }
    | { kind: "measure" | "locate"; rigId: string; direction: Direction }
    | { kind: "swap"; ask: Ask };
}

/** What a step is looked for in. */
export interface Unsettled {
  rigs: readonly LetteredRig[];
  groups: readonly CauseGroup[];
  drill: string;
  direction: Direction;
  conclusions: Pick<Conclusions, "locatedIn" | "shelf" | "seen">;
  /** Claims of the study. */
  judged: readonly Judged[];
}

/** What is missing of an answer, and does most for it; null where nothing is open. */
export function nextStep(unsettled: Unsettled): NextStep | null {
  const { rigs, direction, groups, conclusions } = unsettled;
  if (rigs.length === 0)
    return {
      text: "Build two rigs for the same drive",
      why: "",
      minutes: null,
      go: { kind: "rigs" },
    };
  const measure = (text: string, rig: LetteredRig): NextStep => ({
    text,
    why: "",
    minutes: null,
    go: { kind: "measure", rigId: rig.rig.id, direction },
  });
  if (rigs.every(({ observation }) => !observation))
    return measure(`Measure rig ${rigs[0]!.letter} ${DOING[direction]}`, rigs[0]!);
  const swap = bestSwap(unsettled);
  if (swap) return swap;
  const spoiled = rigs.find(({ observation }) => observation && isHostSpoiled(observation));
  if (spoiled) return repeatOnIdleHost(spoiled, direction);
  // A rig that was measured by another drill alone was left out of this one on purpose.
  const unmeasured = rigs.find(
    ({ observation, rig }) =>
      !observation &&
      !conclusions.seen.some((seen) => isOf(seen, rig) && seen.drill.direction === direction),
  );
  if (unmeasured)
    return measure(`Measure rig ${unmeasured.letter} ${DOING[direction]}`, unmeasured);
  const single = rigs.find(({ observation }) => observation && observation.repeats.n < 2);
  if (single) return measure(`Repeat rig ${single.letter}: a single run shows no spread`, single);
  if (rigs.length < 2)
    return {
      text: "Build a second rig that differs in one part",
      why: "to learn what that part costs",
      minutes: null,
      go: { kind: "rigs" },
    };
  return claimStep(unsettled) ?? lookCloser(groups, direction);
}

/** What to do about runs that other programs spoiled. */
export const repeatOnIdleHost = ({ letter, rig }: LetteredRig, direction: Direction): NextStep => ({
  text: `Repeat rig ${letter} with no other program running`,
  why: "as other programs kept a processor core busy",
  minutes: null,
  go: { kind: "measure", rigId: rig.id, direction },
});

/** The swap of the worst group that has one, or the one that says most of several rigs at once. */
function bestSwap(unsettled: Unsettled): NextStep | null {
  const steps = unsettled.groups
    .filter(isOpen)
    .flatMap((group) => swapOf(group, unsettled) ?? [])
    .toSorted((a, b) => b.bits - a.bits);
  const [best] = steps;
  return best ? best.step : null;
}

/** The next swap of one finding; null where nothing is open about it, or no swap tells more. */
export function groupStep(group: CauseGroup, unsettled: Unsettled): NextStep | null {
  return isOpen(group) ? (swapOf(group, unsettled)?.step ?? null) : null;
}

/** A swap with what it is expected to tell of all rigs of the study together, bits. */
interface Swap {
  step: NextStep;
  bits: number;
}

function swapOf(group: CauseGroup, unsettled: Unsettled): Swap | null {
  const { conclusions, drill, direction, rigs } = unsettled;
  const located = conclusions.locatedIn(drill, direction);
  const own = group.rigs.flatMap(({ rig }) => located.find((one) => one.rig.id === rig.id) ?? []);
  const [first] = own;
  const next = first?.nextSwaps[0];
  if (!first || !next) return null;
  const helped = located.filter((one) => tells(one, next));
  const letters = rigs.filter(({ rig }) => helped.some((one) => one.rig.id === rig.id));
  return {
    bits: helped.reduce((sum, one) => sum + (stepIn(one, next)?.bits ?? 0), 0),
    step: {
      text: capital(tellChange(next, first.rig)),
      why: `for ${rigsCalled(letters)}`,
      minutes: next.minutes,
      go: { kind: "swap", ask: askOf(next) },
    },
  };
}

/** The same change among the steps of a rig. */
const stepIn = ({ nextSwaps }: Located, { kind, rig }: NextSwap): NextSwap | undefined =>
  nextSwaps.find((one) => one.kind === kind && setUpKey(one.rig) === setUpKey(rig));
const tells = (one: Located, next: NextSwap): boolean => stepIn(one, next) !== undefined;

/** What would settle an open claim. */
function claimStep({ judged }: Unsettled): NextStep | null {
  const open = judged.filter(({ kind }) => kind === "Can't tell yet");
  const [one] = open.flatMap(({ part, settle }) => settle.map((step) => ({ part, step })));
  if (!one) return null;
  const { step, part } = one;
  return {
    text: step.text.replace(/\.$/, ""),
    why: `for the claims of ${part.name}`,
    minutes: null,
    go: step.ask ? { kind: "swap", ask: step.ask } : { kind: "judge" },
  };
}

/** Where no step is known: the page that says what is left. */
function lookCloser(groups: readonly CauseGroup[], direction: Direction): NextStep | null {
  const [group] = groups.filter((one) => isFinding(one) && one.kind !== "cause" && isOpen(one));
  const [rig] = group?.rigs ?? [];
  if (!rig) return null;
  return {
    text: `See what may limit rig ${rig.letter}`,
    why: "",
    minutes: null,
    go: { kind: "locate", rigId: rig.rig.id, direction },
  };
}
