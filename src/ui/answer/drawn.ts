import type { LetteredRig } from "@/core/answer/lettered-rig";
import { bottleneckOf } from "@/core/chain/bottleneck";
import { fileSystemOf } from "@/core/chain/rig";
import type { Stage } from "@/core/chain/stage";
import { kindOf } from "@/core/drills/drill";
import type { Carried } from "@/core/locate/findings/carried";
import { ceilingText, lowestOf } from "@/core/machine/machine-stage";
import { marksOf } from "@/core/locate/findings/finding";
import { summarise } from "@/core/stats/repeats";
import { formatNumber, formatPercent, formatRate } from "@/core/units/number";
import { inUnit, type Direction, type RateUnit } from "@/core/units/rate";
import { lineUp, type ChannelStage } from "../narrows/geometry";

/** One stage of a rig as it is drawn. */
export interface DrawnStage extends ChannelStage {
  label: string;
  /** What it can carry, as written. */
  rate: string;
  /** What it could carry by itself where that is more, as written. */
  lost: string | null;
  state: Carried["state"] | null;
  mark: "bottleneck" | "predicted" | "likely" | null;
}

/** One rig as it is drawn: nothing is left to work out. */
export interface DrawnRig {
  id: string;
  letter: string;
  name: string;
  /** What is to be known of it beside its name: its file system, where its runs come from. */
  notes: string;
  /** Why its run is to be taken with care; empty where nothing is. */
  cautions: readonly string[];
  /** A stage for each column. */
  stages: (DrawnStage | null)[];
  /** How much room each column takes, beside the others: what its longest label does. */
  weights: readonly number[];
  /** MB/s; null where nothing was measured. */
  flow: number | null;
  /** What was seen, as written; of a rig that was not measured what is foreseen. */
  rate: string;
  /** "52 % of its ceiling", "not measured". */
  share: string;
  /** Of its ceiling, 0 to 1; null where that is not known. */
  efficiency: number | null;
}

/** Several rigs, lined up part by part. */
export interface DrawnRigs {
  rigs: DrawnRig[];
  /** The largest rate in sight, MB/s. */
  widest: number;
}

/**
 * Rigs as the answer draws them. Copies have a second end, whose columns would take the room of all others: they
 * are lined up by themselves.
 */
export function drawRigs(
  rigs: readonly LetteredRig[],
  direction: Direction,
  unit: RateUnit,
): DrawnRigs {
  const isCopy = ({ rig }: LetteredRig) => rig.other.length > 0;
  const parts = [rigs.filter((one) => !isCopy(one)), rigs.filter(isCopy)].map((some) =>
    drawTogether(some, direction, unit),
  );
  return {
    rigs: parts.flatMap((part) => part.rigs),
    widest: Math.max(1, ...parts.map(({ widest }) => widest)),
  };
}

/** Rigs that are lined up part by part. */
function drawTogether(
  rigs: readonly LetteredRig[],
  direction: Direction,
  unit: RateUnit,
): DrawnRigs {
  const rate = (mbps: number) => formatRate(inUnit(mbps, unit));
  const lined = lineUp(
    rigs.map((one) => ({
      rig: one.rig,
      marks: marksOf(one, direction),
      flow: one.observation?.repeats.median ?? null,
      machine: one.machine,
    })),
    direction,
  );
  const stagesOf = rigs.map((one, i) =>
    lined.rows[i]!.stages.map((stage) => stage && drawStage(stage, one, direction, rate)),
  );
  const weights = lined.columns.map((_, i) =>
    Math.max(LEAST, ...stagesOf.map((stages) => lengthOf(stages[i] ?? null))),
  );
  const drawn = rigs.map((one, i): DrawnRig => {
    const { rig, letter, observation, finding } = one;
    const foreseen = lowestOf(lined.rows[i]!.stages);
    return {
      id: rig.id,
      letter,
      name: rig.name,
      notes: [
        fileSystemOf(rig),
        observation && observation.origin !== "measured" ? observation.origin : "",
      ]
        .filter(Boolean)
        .join(" · "),
      cautions: observation?.cautions ?? [],
      stages: stagesOf[i]!,
      weights,
      flow: observation?.repeats.median ?? null,
      rate: observation ? seenIn(one, rate) : rate(foreseen),
      share: shareOf(one),
      efficiency: finding?.efficiency ?? null,
    };
  });
  return { rigs: drawn, widest: lined.widest };
}

/** Room that a column takes at least, and at most, signs. */
const LEAST = 9;
const MOST = 26;

/** How long the label of a stage is, with its figure, signs. */
const lengthOf = (stage: DrawnStage | null): number =>
  stage ? Math.min(MOST, stage.label.length + stage.rate.length + (stage.state ? 5 : 3)) : 0;

/** What was seen, as the drill counts it: requests a second of small ones. */
function seenIn({ observation }: LetteredRig, rate: (mbps: number) => string): string {
  const { drill, results, repeats } = observation!;
  return kindOf(drill).shows.includes("iops")
    ? `${formatNumber(summarise(results.map(({ iops }) => iops)).median)}/s`
    : rate(repeats.median);
}

function shareOf({ observation, finding }: LetteredRig): string {
  if (!observation) return "predicted, not measured";
  if (finding?.kind === "by requests") return "small requests";
  return finding
    ? `${formatPercent(finding.efficiency)} of its ceiling`
    : "its links do not come up";
}

function drawStage(
  stage: Stage,
  one: LetteredRig,
  direction: Direction,
  rate: (mbps: number) => string,
): DrawnStage {
  const { key, label, ceiling, own, held, part } = stage;
  const marks = marksOf(one, direction);
  const isMarked = marks.stageKeys.includes(key);
  return {
    key,
    label,
    ceiling,
    own,
    held,
    rate: ceilingText(stage, rate),
    lost: own > ceiling * 1.005 ? rate(own) : null,
    state: one.observation ? (one.standing?.parts[part.id] ?? null) : null,
    mark: isMarked
      ? marks.predicted
        ? "predicted"
        : "bottleneck"
      : marks.likelyKeys.includes(key)
        ? "likely"
        : null,
  };
}

/** One of very many rigs, as a bar. */
export type DrawnBar = Pick<DrawnRig, "id" | "letter" | "name" | "flow" | "rate" | "share"> & {
  /** The lowest ceiling of its stages, MB/s. */
  ceiling: number;
};

/** Very many rigs, each as a bar: what it gave of its ceiling. */
export const drawBars = (
  rigs: readonly LetteredRig[],
  direction: Direction,
  unit: RateUnit,
): DrawnBar[] =>
  rigs.map((one) => ({
    id: one.rig.id,
    letter: one.letter,
    name: one.rig.name,
    flow: one.observation?.repeats.median ?? null,
    ceiling: one.finding?.bottleneck.ceiling ?? bottleneckOf(one.rig, direction)?.ceiling ?? 0,
    rate: one.observation ? seenIn(one, (mbps) => formatRate(inUnit(mbps, unit))) : "–",
    share: shareOf(one),
  }));
