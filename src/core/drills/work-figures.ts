import { formatDuration, formatPercent } from "../units/number";
import { counted } from "../units/counted";
import type { ReplayResult } from "../run/replay-result";
import type { StepResult } from "../run/result";

/** What recorded work took in its replay, and had taken in the recording. */
export interface WorkFigures {
  /** Time for the work, and of it the time in which the drive had a request to answer. */
  seconds: number;
  waitedSeconds: number;
  recordedSeconds: number;
  recordedWaitedSeconds: number;
  flushes: number;
  leftOut: number;
  widened: number;
  folded: boolean;
}

/** The figures of replays one after another; null where nothing was done again. */
export function workFigures(steps: readonly Pick<StepResult, "replay">[]): WorkFigures | null {
  const all = steps.flatMap(({ replay }) => replay ?? []);
  if (all.length === 0) return null;
  const sum = (pick: (one: ReplayResult) => number) =>
    all.reduce((total, one) => total + pick(one), 0);
  return {
    seconds: sum(({ replayed }) => replayed.ms) / 1e3,
    waitedSeconds: sum(({ replayed }) => replayed.waitedMs) / 1e3,
    recordedSeconds: sum(({ recorded }) => recorded.ms) / 1e3,
    recordedWaitedSeconds: sum(({ recorded }) => recorded.waitedMs) / 1e3,
    flushes: sum(({ flushes }) => flushes),
    leftOut: sum(({ leftOut }) => leftOut),
    widened: sum(({ widened }) => widened),
    folded: all.some(({ folded }) => folded),
  };
}

const long = (seconds: number): string => formatDuration(seconds * 1e3);

/** The result in one sentence: "41 s, of which it waited 12 s for the drive". */
export const workTime = ({ seconds, waitedSeconds }: WorkFigures): string =>
  `${long(seconds)}, of which it waited ${long(waitedSeconds)} for the drive`;

/** How it had been in the recording, in one sentence. */
export const recordedTime = ({ recordedSeconds, recordedWaitedSeconds }: WorkFigures): string =>
  `In the recording the work took ${long(recordedSeconds)}, and waited ${long(recordedWaitedSeconds)}.`;

/** What else there is to say of a replay, a sentence each. */
export function workWords(figures: WorkFigures): string[] {
  const { seconds, waitedSeconds } = figures;
  const { leftOut, widened, folded } = figures;
  const most = seconds > 0 ? waitedSeconds / seconds : 0;
  return [
    `A drive without any delay would save ${formatPercent(Math.min(1, most))} of the time at most.`,
    ...(leftOut > 0
      ? [
          `${counted(leftOut, "request")} that only free space were left out: they would leave holes in the scratch file.`,
        ]
      : []),
    ...(widened > 0
      ? [`${counted(widened, "request")} were widened to the smallest that this drive takes.`]
      : []),
    ...(folded
      ? [
          "The drive has less room than the work touched, so its places are folded into what there is.",
        ]
      : []),
  ];
}
