import { countedIn } from "@/core/conclude/counting";
import { checkDemand, type Fit } from "@/core/demand/check";
import { shownBy } from "@/core/demand/shown";
import type { FiledStudy } from "@/core/exchange/study-file";
import { formatPercent, formatRate } from "@/core/units/number";
import { DOING, type Direction } from "@/core/units/rate";
import { wrapped } from "../lines";

/** How one rig stands to one demand in one direction, as `nerrit judge --json` has it (docs/formats.md). */
interface DemandLine {
  demand: string;
  rigId: string;
  direction: Direction;
  needMBps: number;
  haveMBps: number;
  fit: string;
}

const WORDS: Record<Fit, string> = {
  met: "met",
  missed: "missed",
  open: "open",
  "should meet": "should-meet",
  "cannot meet": "cannot-meet",
  "can't tell": "cant-tell",
};

/** Every demand of a study held against every rig, in the order in which they stand. */
export function demandsIn({ study, rigs, measurements }: FiledStudy): DemandLine[] {
  const { seen } = countedIn(rigs, measurements);
  const round = (mbps: number) => Number(mbps.toPrecision(6));
  return study.demands.flatMap((demand) =>
    rigs.flatMap((rig) =>
      checkDemand(rig, demand, (way) => shownBy(seen, rig, way)).map(
        ({ direction, need, have, fit }) => ({
          demand: demand.name,
          rigId: rig.id,
          direction,
          fit: WORDS[fit],
          needMBps: round(need),
          haveMBps: round(have),
        }),
      ),
    ),
  );
}

/** The same for people. */
export const demandLines = (lines: readonly DemandLine[]): string[] =>
  lines.flatMap(({ demand, rigId, direction, needMBps, haveMBps, fit }) =>
    wrapped(
      `${demand}, rig ${rigId}, ${DOING[direction]}: ${fit === "open" ? "open, fast enough in a short run: a Long fill would tell whether that lasts" : fit.replaceAll("-", " ")} (asks ${formatRate(needMBps)} MB/s, has ${formatRate(haveMBps)}${haveMBps < needMBps ? `, ${formatPercent(1 - haveMBps / needMBps)} short` : ""})`,
    ),
  );
