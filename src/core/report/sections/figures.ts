import type { StudyAnswer } from "../../answer/study";
import { drillNamed } from "../../drills/catalogue";
import { settingsWords } from "../../study/measurement";
import { summarise } from "../../stats/repeats";
import { formatMicroseconds, formatNumber, formatPercent } from "../../units/number";
import { inUnit, DOING } from "../../units/rate";
import { anchorOf, words, type Block, type Cell, type Table } from "../document";
import { drawingsOf } from "../drawings";
import type { Matter } from "../matter";
import { originWords } from "../origins";
import { answeringOf, DRAWN, spoken, telling } from "./answer";
import { cachesBlocks } from "./caches";
import { suitesBlocks } from "./suites";
import { worksBlocks } from "./works";

/** What every rig gave in every drill, with its ceiling and how far the repeats lie apart. */
export function figuresSection(matter: Matter): Block[] {
  const blocks = [
    ...ratesBlocks(matter),
    ...worksBlocks(matter),
    ...cachesBlocks(matter),
    ...suitesBlocks(matter),
  ];
  return blocks.length > 0
    ? blocks
    : [{ kind: "prose", words: ["Nothing has been measured yet."] }];
}

function ratesBlocks(matter: Matter): Block[] {
  const shown = matter.answers.filter(({ rigs }) => rigs.some(({ observation }) => observation));
  const answering = answeringOf(matter.answers);
  return shown.flatMap((answer): Block[] => [
    { kind: "table", table: tableOf(matter, answer) },
    // What rigs give in the drill that the study answers with is said in sentences too.
    ...(answering.includes(answer)
      ? [
          {
            kind: "list" as const,
            items: answer.told.map(({ sentence }) => spoken([sentence], answer)),
          },
        ]
      : []),
    ...(answer === shown[0] && isDrawn(measured(answer))
      ? []
      : drawingsOf(
          matter,
          answering.includes(answer) ? measured(answer) : telling(measured(answer)),
        )),
  ]);
}

/** Whether all of it stands with the answer already; see `telling`. */
const isDrawn = ({ rigs }: StudyAnswer) =>
  rigs.length <= DRAWN && rigs.every(({ observation }) => !observation?.doubtful);

/** An answer without the rigs that were not measured by its drill. */
const measured = (answer: StudyAnswer): StudyAnswer => ({
  ...answer,
  rigs: answer.rigs.filter(({ observation }) => observation),
});

function tableOf({ rates }: Matter, { drill, direction, rigs }: StudyAnswer): Table {
  const { title, shows } = drillNamed(drill);
  const small = shows.includes("iops");
  const seen = rigs.flatMap(({ observation }) => observation ?? []);
  const summaries = [...new Set(seen.map((one) => settingsWords(one)))];
  const without = rigs.filter(({ observation }) => !observation).map(({ letter }) => letter);
  const origins = originWords(seen.map(({ origin }) => origin));
  return {
    key: `figures-${drill}-${direction}`,
    title: `${title}, ${DOING[direction]}`,
    note: `${summaries.join("; ")}. Medians of the repeats, ${rates.unit}; interval: 95 % of the mean by Student’s t; efficiency: of the hard ceiling of the bottleneck.${without.length > 0 ? ` Not measured by it: ${without.join(", ")}.` : ""}${origins ? ` ${origins}` : ""}`,
    columns: [
      { name: "rig" },
      ...[rates.unit, ...(small ? ["requests a second"] : []), "hard ceiling", "efficiency"].map(
        figure,
      ),
      ...["spread", "95 % interval", "n", "p50", "p99"].map(figure),
    ],
    rows: rigs.flatMap(({ letter, rig, observation, finding }): Cell[][] => {
      if (!observation) return [];
      const name = words(
        `${letter} ${rig.name}${observation.origin !== "measured" ? ` (${observation.origin})` : ""}`,
      );
      const { repeats, results, measurementIds } = observation;
      const latency = results.at(-1)?.latencyUs;
      const rate = (mbps: number): Cell => ({
        text: rates.rate(mbps),
        value: inUnit(mbps, rates.unit),
      });
      const iops = small ? summarise(results.map((one) => one.iops)).median : 0;
      const [run] = measurementIds;
      const row: Cell[] = [
        name,
        { ...rate(repeats.median), ...(run ? { run: anchorOf(run) } : {}) },
        ...(small ? [{ text: formatNumber(iops), value: iops }] : []),
        finding ? rate(finding.bottleneck.ceiling) : words("–"),
        finding
          ? { text: formatPercent(finding.efficiency), value: finding.efficiency }
          : words("–"),
        repeats.n > 1 ? { text: formatPercent(repeats.spread), value: repeats.spread } : words("–"),
        words(
          repeats.interval
            ? `${rates.rate(repeats.interval.low)} to ${rates.rate(repeats.interval.high)}`
            : "one run: none",
        ),
        { text: formatNumber(repeats.n), value: repeats.n },
        // A copy times no single requests.
        ...(latency && latency.p50 > 0
          ? [latency.p50, latency.p99].map((us) => ({ text: formatMicroseconds(us), value: us }))
          : [words("–"), words("–")]),
      ];
      return [row];
    }),
  };
}

const figure = (name: string) => ({ name, figure: true });
