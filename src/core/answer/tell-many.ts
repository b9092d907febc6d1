import type { Finding } from "../locate/findings/finding";
import { counted } from "../units/counted";
import { IN_MB } from "../units/number";
import type { Direction } from "../units/rate";
import { groupedBy, isNearlyDesigned, leftOver, placeOf, shareOf, type Measured } from "./tell-rig";
import { doing, list, say, span, type Segment } from "../chain/wording";

/** Rigs that are named of very many, and places that hold some of them back. */
const NAMED = 6;

/**
 * What very many rigs come to, where each by itself would be no answer: how many lose more than their
 * ledgers explain, and how many do not.
 *
 * @param measured rigs with a finding
 */
export function tellMany(
  measured: readonly Measured[],
  direction: Direction,
  rates = IN_MB,
): Segment[][] {
  const of = (kind: Finding["kind"]) => measured.filter(({ finding }) => finding!.kind === kind);
  const [above, small] = [of("above"), of("by requests")];
  const below = of("below").filter((one) => !isNearlyDesigned(one));
  const rest = new Set([...below, ...above, ...small]);
  const designed = measured.filter((one) => !rest.has(one));
  const gave = (some: readonly Measured[]) => {
    const medians = some.map(({ observed }) => observed.median);
    return `${span(medians, rates.rate, rates.said)} ${doing(direction)}`;
  };
  const all = `of ${counted(measured.length, "rig")}`;
  /** The sentence for one rig and for several; none for none. */
  const tell = (some: readonly Measured[], one: string, several: string): Segment[][] =>
    some.length === 0 ? [] : [[say(`${some.length} ${all} ${some.length === 1 ? one : several}.`)]];
  const lost = `${gave(below)}, ${shares(below)} of what the narrows could carry (${worst(below)})`;
  const high = `(${worst(above)}): memory answered, or a link is not what was declared`;
  const foreseen = `${gave(designed)}, ${shares(designed)} of the ceiling`;
  const each = `gave ${gave(small)} in small requests: what each takes along the way decides, not the width of a link`;
  return [
    ...tell(
      below,
      `loses more than its ledger explains: ${lost}`,
      `lose more than their ledgers explain: ${lost}`,
    ),
    ...groupedBy(below.filter(hasStanding), placeOf).slice(0, NAMED).flatMap(leftOver),
    ...tell(
      above,
      `gave more than its narrows can carry ${high}`,
      `gave more than their narrows can carry ${high}`,
    ),
    ...tell(
      designed,
      `runs as its ledger foresees: ${foreseen}`,
      `run as their ledgers foresee: ${foreseen}`,
    ),
    ...tell(small, each, each),
  ];
}

const hasStanding = ({ standing }: Measured) => Boolean(standing);
const shares = (some: readonly Measured[]) =>
  shareOf(some.map(({ finding }) => finding!.efficiency));

/** Those furthest from their ceiling, by letter. */
function worst(some: readonly Measured[]): string {
  const letters = some
    .toSorted((a, b) => a.finding!.efficiency - b.finding!.efficiency)
    .slice(0, NAMED)
    .map(({ letter }) => letter);
  const name = `rig${letters.length === 1 ? "" : "s"} ${list(letters)}`;
  return some.length > NAMED ? `most of all ${name}` : name;
}
