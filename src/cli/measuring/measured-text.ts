import { iopsOf, unsureBy } from "@/core/drills/kind";
import { kindOf, summaryOf, titleOf, type Drill } from "@/core/drills/drill";
import { copyEnds, waitedFor } from "@/core/drills/copy-ends";
import type { DrillKind } from "@/core/drills/kind";
import { proofOf } from "@/core/drills/proof-faults";
import { recordedTime, workFigures, workTime, workWords } from "@/core/drills/work-figures";
import type { Conditions, Fit, RunResult, StepResult } from "@/core/run/result";
import { farLoadOf } from "@/core/reading/far-load";
import { movedLines, type FarLoad } from "@/core/run/far-host";
import { loadWords } from "@/core/run/host-load";
import { summarise } from "@/core/stats/repeats";
import { counted } from "@/core/units/counted";
import {
  formatMicroseconds,
  formatNumber,
  formatPercent,
  formatRate,
  formatSeconds,
  IN_MB,
} from "@/core/units/number";
import { formatSize } from "@/core/units/size";
import { bar, table, wrapped } from "../lines";
import { middle, type MeasuredDrill, type Repeat } from "./measured-document";

/** What a run says on a terminal. @param repeats those with a result */
export function measuredText(
  { drill, targets }: MeasuredDrill,
  repeats: readonly Repeat[],
  conditions: Conditions,
): string[] {
  const kind = kindOf(drill);
  const rates = summarise(repeats.map(({ result }) => result!.meanMBps));
  const { result, events, errors, readings } = middle(repeats);
  const far = farLoadOf(readings);
  const steps = result!.steps.filter((step) => step.kind !== "rest");
  const { n, median, spread, interval } = rates;
  return [
    `${headline(kind, result!, median)} on ${targets.join(", ")}${conditions.device ? ` (${conditions.device})` : ""}`,
    ...wrapped(`${titleOf(drill)}, ${drill.direction}: ${summaryOf(drill)}`),
    ...(n > 1
      ? wrapped(
          `median of ${n} runs, spread ${formatPercent(spread)}, 95 % interval of the mean ${formatRate(interval!.low)} to ${formatRate(interval!.high)} MB/s`,
        )
      : drill.repeats > 1 || kind.repeats > 1
        ? ["one run, so no interval: --repeats 3 gives one"]
        : []),
    ...PICTURES[kind.picture](steps, targets, drill.direction),
    ...fitWords(result!.fit),
    ...(far ? farText(far) : []),
    ...events.flatMap(({ ms, text }) => wrapped(`at ${formatSeconds(ms / 1e3)}: ${text}`)),
    ...errors
      .filter(({ before, after }) => after > before)
      .map(({ what, before, after }) => `${what}: ${after - before} more`),
    ...(conditions.io === "buffered" ? ["buffered: memory may have answered, not the drive"] : []),
    ...conditions.notes.flatMap((note) => wrapped(note)),
  ];
}

/** What the machine that serves the share did meanwhile. */
const farText = (load: FarLoad): string[] =>
  [`${load.host}, the far host: ${loadWords(load)}`, ...movedLines(load, IN_MB)].flatMap((line) =>
    wrapped(line),
  );

/** What a run is known by: a rate, and of recorded work its time before. */
function headline(kind: DrillKind, { iops, steps }: RunResult, mbps: number): string {
  const rate = `${formatRate(mbps)} MB/s`;
  const work = workFigures(steps);
  if (work) return `${workTime(work)} (${rate}),`;
  return kind.shows.includes("iops") ? `${rate}, ${formatNumber(iops)} requests a second,` : rate;
}

type Picture = (
  steps: readonly StepResult[],
  targets: readonly string[],
  direction: Drill["direction"],
) => string[];

const times = ({ latencyUs: { p50, p99, p9999, max } }: StepResult) =>
  `request times: p50 ${formatMicroseconds(p50)}, p99 ${formatMicroseconds(p99)}${p9999 ? `, p99.99 ${formatMicroseconds(p9999)}` : ""}, longest ${formatMicroseconds(max)}`;

const flushed = ({ flushMs }: StepResult) =>
  flushMs === null ? [] : [`flush at the end: ${formatSeconds(flushMs / 1e3)}`];

/** " ± 20 %" where few requests make a rate coarse. */
const coarse = (step: StepResult) => {
  const share = unsureBy(step);
  return share === null ? "" : ` ± ${formatPercent(share)}`;
};

/** A ladder: one line a step, with a bar as long as its rate. */
const ladder =
  (name: string, label: (step: StepResult) => string): Picture =>
  (steps) => {
    const most = Math.max(...steps.map(({ meanMBps }) => meanMBps), 1e-9);
    return [
      "",
      ...table(
        [name, "MB/s", "a second", "p50", "p99", ""],
        steps.map((step) => [
          label(step),
          `${formatRate(step.meanMBps)}${coarse(step)}`,
          formatNumber(iopsOf(step)),
          formatMicroseconds(step.latencyUs.p50),
          formatMicroseconds(step.latencyUs.p99),
          bar(step.meanMBps / most),
        ]),
      ),
    ];
  };

const PICTURES: Record<ReturnType<typeof kindOf>["picture"], Picture> = {
  rate: ([step]) =>
    step
      ? [
          ...wrapped(times(step)),
          ...flushed(step),
          ...(step.steady
            ? [
                `${step.steady.reached ? "steady" : "not steady"} after ${counted(step.steady.rounds, "round")}`,
              ]
            : []),
        ]
      : [],
  "by block": ladder("block", ({ label }) => formatSize(label.block!)),
  "by depth": ladder("in flight", ({ label }) => String(label.depth)),
  position: ladder("at", ({ label }) => formatSize(label.position!, 1000)),
  steps: ladder("step", ({ label }) =>
    label.name
      ? label.name.slice(0, 26)
      : label.restSeconds === 0
        ? "first"
        : `after ${formatSeconds(label.restSeconds!)}`,
  ),
  fill: ([step]) =>
    step
      ? [
          `burst ${formatRate(step.burstMBps)} MB/s, sustained ${formatRate(step.sustainedMBps)} MB/s`,
          step.edgeBytes === null
            ? `no lasting drop within ${formatSize(step.bytes, 1000)}`
            : `the first lasting drop came after ${formatSize(step.edgeBytes, 1000)}`,
          ...flushed(step),
        ]
      : [],
  copy([step], targets, direction) {
    const copy = step?.copy;
    if (!copy) return [];
    const { waitedForFromMs: from, waitedForToMs: to } = copy;
    const slow = waitedFor(from, to, step.ms);
    const ends = copyEnds(targets, direction);
    return [
      `${counted(copy.files, "file")}, ${formatSize(step.bytes, 1000)} in ${formatSeconds(step.ms / 1e3)}`,
      ...(ends.from !== null && ends.to !== null
        ? wrapped(
            `waited ${formatSeconds(from / 1e3)} for the source ${ends.from}, ${formatSeconds(to / 1e3)} for the target ${ends.to}: ${slow === "neither" ? "neither side held the other up" : `the ${slow === "from" ? "source" : "target"} ${ends[slow]} is the slow side`}`,
          )
        : []),
      ...(copy.perFileMs === null
        ? []
        : [
            `a file costs ${copy.perFileMs.toFixed(2)} ms, and its bytes go at ${formatRate(copy.perByteMBps!)} MB/s`,
          ]),
      ...(copy.fromMemory === null
        ? []
        : [`${formatPercent(copy.fromMemory)} of the source came from memory`]),
      ...(copy.verified > 0
        ? [
            copy.differing.length > 0
              ? `${counted(copy.differing.length, "file")} differ: ${copy.differing.slice(0, 5).join(", ")}`
              : `all ${copy.verified} files are the same as their source`,
          ]
        : []),
      ...(copy.kept ? [`the copy stays in ${copy.kept}`] : []),
    ];
  },
  targets: ([step], targets) =>
    step
      ? [
          "",
          ...table(
            ["drive", "began, s", "MB/s"],
            step.targets.map(({ target, startedMs, meanMBps }) => [
              targets[target]!.slice(-40),
              (startedMs / 1e3).toFixed(1),
              formatRate(meanMBps),
            ]),
          ),
        ]
      : [],
  work(steps) {
    const figures = workFigures(steps);
    if (!figures) return [];
    const phases = steps.flatMap(({ replay }) => replay?.phases ?? []);
    const [longest] = steps;
    return [
      ...[recordedTime(figures), ...workWords(figures)].flatMap((sentence) => wrapped(sentence)),
      ...(longest ? wrapped(times(longest)) : []),
      ...(phases.length > 1
        ? [
            "",
            ...table(
              ["from, s", "recorded, s", "again, s", "waited, s", "moved"],
              phases.map(({ fromMs, recorded, replayed, bytes }) => [
                formatSeconds(fromMs / 1e3),
                formatSeconds(recorded.ms / 1e3),
                formatSeconds(replayed.ms / 1e3),
                formatSeconds(replayed.waitedMs / 1e3),
                formatSize(bytes, 1000),
              ]),
            ),
          ]
        : []),
    ];
  },
  proof(steps) {
    const { checkedBytes, faults, moreFaults } = proofOf(steps);
    const found = faults.length + moreFaults;
    return [
      `${formatSize(checkedBytes, 1000)} read back and checked: ${found === 0 ? "every block is as it was written" : counted(found, "fault")}`,
      ...(found > 0
        ? table(
            ["fault", "at byte", "bytes"],
            faults
              .slice(0, 40)
              .map(({ kind, offset, bytes }) => [kind, formatNumber(offset), formatNumber(bytes)]),
          )
        : []),
      ...(found > 40 ? [`and ${found - 40} more; --json lists them`] : []),
    ];
  },
};

function fitWords(fit: Fit | null): string[] {
  if (!fit) return [];
  if (fit.by === "block") {
    return wrapped(
      `each request costs ${formatMicroseconds(fit.overheadUs)} whatever its size, and its bytes go at ${formatRate(fit.asymptoteMBps)} MB/s; half of that is reached at ${formatSize(Math.round(fit.halfRateBytes))} (a step lies ${formatPercent(fit.worst)} off at most)`,
    );
  }
  return wrapped(
    fit.rises
      ? `one at a time ${formatNumber(fit.singleIops)} a second, at most ${formatNumber(fit.plateauIops)}; the knee lies at ${fit.kneeDepth.toFixed(1)} in flight`
      : `no rise with depth: ${formatNumber(fit.plateauIops)} a second however many are in flight, the mark of a path that serves one request at a time`,
  );
}
