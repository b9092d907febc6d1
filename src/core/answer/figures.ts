import { median } from "simple-statistics";
import type { Bottleneck } from "../chain/bottleneck";
import { called, inRows, span } from "../chain/wording";
import { summarise } from "../stats/repeats";
import { formatNumber, formatPercent, type RateWords } from "../units/number";
import type { Direction } from "../units/rate";
import { allowedBy } from "./cause-group";
import { isMeasured, type LetteredRig, type MeasuredRig } from "./lettered-rig";

/** How the figures of an answer are written. */
export interface Telling {
  direction: Direction;
  rates: RateWords;
  /** Whether the drill asks for small requests: they are counted, not their bytes. */
  small: boolean;
  /** All rigs of the study. */
  rigs: readonly LetteredRig[];
}

/** "rig D", "rigs D and E", "rigs A to F". */
export function rigsCalled(rigs: readonly Pick<LetteredRig, "letter">[]): string {
  return `rig${rigs.length === 1 ? "" : "s"} ${inRows(rigs.map(({ letter }) => letter))}`;
}

/** Requests a second, the median of the repeats. */
const requestsOf = ({ observation }: MeasuredRig): number =>
  summarise(observation.results.map(({ iops }) => iops)).median;

/** The rates of some rigs with their unit: "594 to 595 MB/s". */
export function ratesOf(rigs: readonly MeasuredRig[], { rates, small }: Telling): string {
  if (small)
    return `${span(near(rigs.map(requestsOf)), formatNumber, formatNumber)} requests a second`;
  return span(
    near(rigs.map(({ observation }) => observation.repeats.median)),
    rates.rate,
    rates.said,
  );
}

/** Rates that lie nearer to one another than this share are said as one. */
const ALIKE = 0.02;

/** The median of rates that are as good as one, else all of them. */
const near = (rates: readonly number[]): readonly number[] =>
  Math.max(...rates) <= Math.min(...rates) * (1 + ALIKE) ? [median([...rates])] : rates;

/** What a bottleneck lets through, as a relative clause: "that its 10 Gb/s link carries". */
function whatAllows({ link, culprits }: Bottleneck, whose: string): string {
  if (link?.mode) return `that ${whose} ${link.mode.short} link carries`;
  return `that ${called(culprits[0]!)} allows`;
}

/** What some rates are compared with: ", 52 % of the 1 141 that their 10 Gb/s link carries". */
export function comparedWith(rigs: readonly MeasuredRig[], telling: Telling): string {
  const { direction, rates, small, rigs: all } = telling;
  const whose = rigs.length === 1 ? "its" : "their";
  if (small) {
    const [quickest] = all
      .filter(isMeasured)
      .filter(({ observation }) => !observation.doubtful)
      .toSorted((a, b) => requestsOf(b) - requestsOf(a));
    if (!quickest || rigs.includes(quickest)) return "";
    const shares = rigs.map((one) => requestsOf(one) / requestsOf(quickest));
    return `, ${span(shares, formatPercent, formatPercent)} of what rig ${quickest.letter} does`;
  }
  // Of small requests the ledger foresees no rate.
  if (rigs.some(({ finding }) => finding.kind === "by requests")) return "";
  const allowed = rigs.flatMap((one) => allowedBy(one, direction) ?? []);
  const [first] = allowed;
  if (!first) return "";
  const shares = rigs.map(({ observation }, i) => observation.repeats.median / allowed[i]!.ceiling);
  const share = span(shares, formatPercent, formatPercent);
  const isOne = allowed.every(({ ceiling }) => ceiling === first.ceiling);
  return isOne
    ? `, ${share} of the ${rates.rate(first.ceiling)} ${whatAllows(first, whose)}`
    : `, ${share} of what ${whose} links carry`;
}
