import { tellWork, worksShown, type WorkShown } from "../../compare/works";
import { formatDuration, formatNumber, formatPercent } from "../../units/number";
import { anchorOf, words, type Block, type Cell } from "../document";
import type { Matter } from "../matter";

/** Recorded work that was done again: a sentence and a table each; nothing where none was. */
export const worksBlocks = (matter: Matter): Block[] =>
  worksShown(matter.filed.measurements, matter.filed.rigs, { rigs: null, drive: null }).flatMap(
    (work, i): Block[] => [
      { kind: "prose", words: [tellWork(work, matter.rates)] },
      { kind: "table", table: tableOf(matter, work, i) },
    ],
  );

function tableOf({ filed: { measurements } }: Matter, work: WorkShown, at: number) {
  const seconds = (value: number): Cell => ({ text: formatDuration(value * 1e3), value });
  const share = (value: number): Cell => ({ text: formatPercent(value), value });
  const measured = (runId: string) =>
    measurements.find(({ runs }) => runs.some(({ id }) => id === runId))?.id;
  return {
    key: `works-${at + 1}`,
    title: `${work.name}, done again`,
    note: `In the recording it took ${formatDuration(work.recordedSeconds * 1e3)}; done again ${work.how}. Medians of the repeats.`,
    columns: [
      { name: "rig" },
      ...["time", "waited for the drive", "of the recording", "spread", "n"].map((name) => ({
        name,
        figure: true,
      })),
    ],
    rows: work.rows.map((row): Cell[] => {
      const run = measured(row.runIds[0]!);
      return [
        words(`${row.letter} ${row.name}`),
        { ...seconds(row.seconds), ...(run ? { run: anchorOf(run) } : {}) },
        row.waitedSeconds === null ? words("–") : seconds(row.waitedSeconds),
        share(row.seconds / work.recordedSeconds),
        row.spread === null ? words("–") : share(row.spread),
        { text: formatNumber(row.n), value: row.n },
      ];
    }),
  };
}
