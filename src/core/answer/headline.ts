import { say, type Segment } from "../chain/wording";
import { differences } from "../chain/difference";
import { nextBottleneck } from "../chain/bottleneck";
import { PART_KIND_NAMES } from "../chain/part";
import { counted } from "../units/counted";
import { DOING } from "../units/rate";
import { isFinding, type CauseGroup } from "./cause-group";
import { isMeasured, type MeasuredRig } from "./lettered-rig";
import { rigsCalled, ratesOf, type Telling } from "./figures";
import { tellBottleneck, tellGroup } from "./tell-group";

/** What two lines of the page hold, characters. */
const TWO_LINES = 176;
/** A swap that gains less is no finding, as a share. */
const GAIN = 0.1;

/**
 * The headline of an answer: the worst finding, and a second one where both stand in two lines. Where all
 * rigs run as designed that is the headline, with what limits the quickest.
 *
 * @param groups in the order of `groupByCause`
 * @returns one sentence or a few
 */
export function headlineOf(groups: readonly CauseGroup[], telling: Telling): Segment[][] {
  const measured = telling.rigs.filter(isMeasured);
  if (measured.length === 0) return [tellNothing(telling)];
  const told = groups.filter((group) => group.kind === "impossible" || isFinding(group));
  const sentences =
    told.length > 0
      ? told.map((group, i) => tellGroup(group, telling, i > 0))
      : tellDesigned(groups, telling);
  return fitting(sentences);
}

/** The first sentence, and those after it as far as two lines hold them. */
function fitting([first = [], ...more]: readonly Segment[][]): Segment[][] {
  const found = [first];
  let length = lengthOf(first);
  for (const sentence of more) {
    length += 1 + lengthOf(sentence);
    if (length > TWO_LINES) break;
    found.push(sentence);
  }
  return found;
}

const lengthOf = (sentence: readonly Segment[]) =>
  sentence.reduce((sum, { text }) => sum + text.length, 0);

function tellNothing({ rigs, direction }: Telling): Segment[] {
  if (rigs.length === 0) return [say("This study has no rigs yet.")];
  return [say(`Nothing is measured yet, ${DOING[direction]} through ${rigsCalled(rigs)}.`)];
}

/** Everything as designed: what limits the quickest, what would widen it, and the part that costs another rig most. */
function tellDesigned(groups: readonly CauseGroup[], telling: Telling): Segment[][] {
  const designed = groups.filter(({ kind }) => kind === "designed");
  const [unsure] = designed.filter(({ certainty }) => certainty && certainty.degree !== "shown");
  const rigs = designed
    .flatMap((group) => group.rigs)
    .filter(isMeasured)
    .toSorted((a, b) => b.observation.repeats.median - a.observation.repeats.median);
  const [quickest] = rigs as [MeasuredRig];
  const isWhole = rigs.length === telling.rigs.length;
  const all =
    rigs.length === 1
      ? `Rig ${quickest.letter} runs as designed.`
      : rigs.length === 2
        ? `Both ${isWhole ? "" : "measured "}rigs run as designed.`
        : `All ${counted(rigs.length, isWhole ? "rig" : "measured rig")} run as designed.`;
  return [
    unsure ? tellGroup(unsure, telling) : [say(all)],
    tellQuickest(quickest, rigs.length, telling),
    ...tellSwap(rigs, telling),
  ];
}

function tellQuickest(quickest: MeasuredRig, of: number, telling: Telling): Segment[] {
  const { direction, rates, small } = telling;
  const rate = ratesOf([quickest], telling);
  if (small || quickest.finding.kind === "by requests")
    return [say(`Rig ${quickest.letter} is quickest at ${rate}.`)];
  const who = `${of > 2 ? "the quickest, " : ""}rig ${quickest.letter}${of > 2 ? "," : ""}`;
  const next = nextBottleneck(quickest.rig, direction);
  const wider =
    next && next.ceiling > quickest.finding.bottleneck.ceiling
      ? `; a ${widerOf(quickest)} could carry ${rates.rate(next.ceiling)}`
      : "";
  return [...tellBottleneck(quickest), say(` limits ${who} to ${rate}${wider}.`)];
}

/** What would widen a bottleneck: "wider enclosure", "faster drive". */
function widerOf({ finding: { bottleneck } }: MeasuredRig): string {
  const [only, ...more] = bottleneck.culprits;
  if (!only || more.length > 0) return "wider link";
  return only.kind === "drive" && !bottleneck.link?.mode
    ? "faster drive"
    : `wider ${PART_KIND_NAMES[only.kind]}`;
}

/** The pair of rigs that differ in one part alone and lie furthest apart: what that part costs. */
function tellSwap(rigs: readonly MeasuredRig[], telling: Telling): Segment[][] {
  if (rigs.length > MOST_PAIRED) return [];
  const pairs = rigs.flatMap((fast, i) =>
    rigs.slice(i + 1).flatMap((slow) => {
      const gain = fast.observation.repeats.median / slow.observation.repeats.median - 1;
      if (gain < GAIN) return [];
      const [change, ...more] = differences(fast.rig, slow.rig);
      const culprit = change?.kind === "part" ? change.b : null;
      const isBottleneck = slow.finding.bottleneck.culprits.some(({ id }) => id === culprit?.id);
      return more.length === 0 && culprit && isBottleneck ? [{ slow, gain }] : [];
    }),
  );
  const [best] = pairs.toSorted((a, b) => b.gain - a.gain);
  if (!best) return [];
  const { slow } = best;
  return [
    [...tellBottleneck(slow), say(` limits rig ${slow.letter} to ${ratesOf([slow], telling)}.`)],
  ];
}

/** Beyond so many rigs no pair is looked for. */
const MOST_PAIRED = 40;
