import type { Conclusions } from "../conclude/conclusions";
import { drillNamed } from "../drills/catalogue";
import { summarise } from "../stats/repeats";
import { Direction } from "../units/rate";
import { isMeasured, letteredRigs } from "./lettered-rig";
import { drillsDone } from "./study";

/** One drill in one direction, as a column. */
export interface MatrixColumn {
  drill: string;
  direction: Direction;
  title: string;
  /** The trade's description of the drill. */
  what: string;
  /** Whether requests are counted, not their bytes. */
  counted: boolean;
}

/** What one rig gave in one drill. */
export interface MatrixCell {
  /** Median of the repeats: MB/s, or requests a second where those are counted. */
  median: number;
  /** Of the ceiling, 0 to 1; null where the ledger foresees no rate. */
  share: number | null;
  /** Relative spread of the repeats; null of a single one. */
  spread: number | null;
  repeats: number;
  /** What makes it doubtful; empty where nothing does. */
  cautions: readonly string[];
  measurementId: string;
}

/** All that was measured, rigs by drills. */
export interface ResultMatrix {
  columns: MatrixColumn[];
  /** A cell for each column; null where nothing was measured. */
  rows: { rigId: string; letter: string; name: string; cells: (MatrixCell | null)[] }[];
}

/** The medians of a study, rigs by drills, in the order of the study and of the list of drills. */
export function resultMatrix(conclusions: Conclusions): ResultMatrix {
  const columns = Direction.options
    .flatMap((direction) =>
      drillsDone(conclusions.measurements, direction).map((kind) => ({ kind, direction })),
    )
    .map(({ kind, direction }) => ({
      drill: kind.name,
      direction,
      title: kind.title,
      what: kind.what,
      counted: kind.shows.includes("iops"),
    }));
  const seen = columns.map(({ drill, direction }) =>
    letteredRigs(conclusions, drillNamed(drill), direction),
  );
  return {
    columns,
    rows: conclusions.rigs.map((rig, i) => ({
      rigId: rig.id,
      letter: seen[0]?.[i]?.letter ?? "",
      name: rig.name,
      cells: columns.map(({ counted }, column): MatrixCell | null => {
        const one = seen[column]![i]!;
        if (!one.observation) return null;
        const { repeats, results, cautions, measurementIds } = one.observation;
        const foreseen = isMeasured(one) && one.finding.kind !== "by requests";
        return {
          median: counted ? summarise(results.map(({ iops }) => iops)).median : repeats.median,
          share: foreseen ? one.finding!.efficiency : null,
          spread: repeats.n > 1 ? repeats.spread : null,
          repeats: repeats.n,
          cautions,
          measurementId: measurementIds[0]!,
        };
      }),
    })),
  };
}
