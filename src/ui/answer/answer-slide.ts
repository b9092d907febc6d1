import type { StudyAnswer } from "@/core/answer/study";
import { allowedBy } from "@/core/answer/cause-group";
import type { LetteredRig } from "@/core/answer/lettered-rig";
import { summarise } from "@/core/stats/repeats";
import { formatNumber, ratesIn } from "@/core/units/number";
import type { RateUnit } from "@/core/units/rate";
import { MOST_ROWS, type Slide } from "../out/slide";
import type { SlideChannel } from "../out/slide-channel";
import { drawRigs, type DrawnStage } from "./drawn";

/**
 * An answer as a picture for a screen: its first sentence, and the rigs that stand first.
 *
 * @param counted whether the drill asks for small requests, which are counted
 * @param source what was measured, and how
 */
export function answerSlide(
  { headline, direction }: Pick<StudyAnswer, "headline" | "direction">,
  first: readonly LetteredRig[],
  { unit, counted, source }: { unit: RateUnit; counted: boolean; source: string },
): Slide {
  const { rate } = ratesIn(unit);
  // A slide has room for what is said on it: the parts.
  const seen = first
    .filter(({ observation }) => observation)
    .slice(0, MOST_ROWS)
    .map((one): LetteredRig => ({ ...one, machine: null }));
  const { rigs } = drawRigs(seen, direction, unit);
  const drawn = rigs.flatMap(({ stages }) => stages.flatMap((stage) => stage ?? []));
  const widest = Math.max(1, ...drawn.map(({ own, ceiling }) => Math.max(own, ceiling)));
  const channelOf = (id: string, flow: number | null): SlideChannel | undefined => {
    const stages = rigs.find((one) => one.id === id)?.stages.flatMap((stage) => stage ?? []);
    if (!stages || stages.length === 0) return undefined;
    const isMarked = ({ mark }: DrawnStage) => mark === "bottleneck";
    return { stages: stages.map((one) => ({ ...one, marked: isMarked(one) })), widest, flow };
  };
  return {
    statement: (headline[0] ?? []).map(({ text }) => text).join(""),
    source,
    rows: seen.map((one) => {
      const { repeats, results, doubtful } = one.observation!;
      const value = counted ? summarise(results.map(({ iops }) => iops)).median : repeats.median;
      const ceiling = counted ? null : (allowedBy(one, direction)?.ceiling ?? null);
      // What cannot be true would make all others too small to be seen.
      const isBeyond = doubtful || (ceiling !== null && value > ceiling);
      return {
        name: `${one.letter}  ${one.rig.name}`,
        figure: `${counted ? formatNumber(value) : rate(value)}${isBeyond ? " !" : ""}`,
        rate: isBeyond ? null : value,
        ceiling,
        ...(counted ? {} : { channel: channelOf(one.rig.id, isBeyond ? null : value) }),
      };
    }),
  };
}
