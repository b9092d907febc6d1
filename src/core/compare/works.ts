import { letterOf } from "../answer/lettered-rig";
import { bottleneckOf } from "../chain/bottleneck";
import type { Rig } from "../chain/rig";
import { drillKey, titleOf, type Drill } from "../drills/drill";
import { paceWords, worksOf } from "../drills/kinds/encore";
import { summarise } from "../stats/repeats";
import { counts, isSetUpOf, type BriefMeasurement } from "../study/measurement";
import { formatDuration, type RateWords } from "../units/number";
import type { Question } from "./question";

/** How long a piece of recorded work took through one rig, in the middle of the times that it was done again. */
export interface WorkRow {
  letter: string;
  rigId: string;
  name: string;
  seconds: number;
  /** Of that, waiting for the drive; null where it was not told. */
  waitedSeconds: number | null;
  n: number;
  /** Relative spread of the times; null of a single one. */
  spread: number | null;
  /** The most that the rig's path carries in its slower direction, MB/s; null where the ledger does not say. */
  ceiling: number | null;
  runIds: string[];
}

/** A piece of recorded work over rigs, each done in the same way. */
export interface WorkShown {
  /** Tells it from others. */
  key: string;
  /** What was recorded. */
  name: string;
  /** How it was done again. */
  how: string;
  /** How long it took in the recording. */
  recordedSeconds: number;
  /** The quickest first. */
  rows: WorkRow[];
}

/**
 * Recorded work that was done again, over rigs: the same work in the same way is held against itself only.
 *
 * @param rigs of the study as they stand
 */
export function worksShown(
  measurements: readonly BriefMeasurement[],
  rigs: readonly Rig[],
  question: Pick<Question, "rigs" | "drive">,
): WorkShown[] {
  return [...worksDone(measurements)].flatMap(([key, { drill, done }]) => {
    const rows = rigs.flatMap((rig, i): WorkRow[] => {
      if (question.rigs !== null && !question.rigs.includes(rig.id)) return [];
      if (question.drive !== null && rig.parts.at(-1)?.id !== question.drive) return [];
      const own = done.filter((one) => isSetUpOf(one.rig, rig));
      return own.length > 0 ? [rowOf(rig, letterOf(i), own)] : [];
    });
    if (rows.length === 0) return [];
    return [{ key, ...workInWords(drill), rows: rows.toSorted((a, b) => a.seconds - b.seconds) }];
  });
}

/** Commands are long; a sentence has room for so much of one, characters. */
const MOST_NAMED = 60;

const shortened = (name: string): string =>
  name.length > MOST_NAMED ? `${name.slice(0, MOST_NAMED - 4).trimEnd()} ...` : name;

/** What a drill does again, how, and how long that took in the recording. */
export const workInWords = (drill: Drill): Pick<WorkShown, "name" | "how" | "recordedSeconds"> => ({
  name: drill.title
    ? titleOf(drill)
    : worksOf(drill)
        .map(({ name }) => shortened(name))
        .join(", "),
  how: paceWords(drill),
  recordedSeconds: recordedSeconds(drill),
});

/** Recorded work that was done again and counts, by which work it is and how it was done. */
export function worksDone(
  measurements: readonly BriefMeasurement[],
): Map<string, { drill: Drill; done: BriefMeasurement[] }> {
  const byWork = new Map<string, { drill: Drill; done: BriefMeasurement[] }>();
  for (const one of measurements) {
    if (worksOf(one.drill).length === 0 || one.warmUp || !one.runs.some(counts)) continue;
    const key = keyOfWork(one.drill);
    const known = byWork.get(key) ?? { drill: one.drill, done: [] };
    known.done.push(one);
    byWork.set(key, known);
  }
  return byWork;
}

/** The same work in the same way; how large the scratch file was follows from the room on a drive. */
export function keyOfWork(drill: Drill): string {
  const { span: _, ...others } = drill;
  return drillKey({ ...others, span: 2 ** 30 });
}

/** One after another takes the sum, side by side the longest. */
function recordedSeconds(drill: Drill): number {
  const each = worksOf(drill).map(({ ms }) => ms / 1e3);
  return drill.order === "at-once"
    ? Math.max(...each)
    : each.reduce((sum, seconds) => sum + seconds, 0);
}

function rowOf(rig: Rig, letter: string, done: readonly BriefMeasurement[]): WorkRow {
  const runs = done.flatMap((one) => one.runs.filter(counts));
  const results = runs.flatMap(({ result }) => result ?? []);
  const times = summarise(results.map(({ ms }) => ms / 1e3));
  const waited = results.flatMap(({ replayWaitedMs }) => replayWaitedMs ?? []);
  const ceilings = (["read", "write"] as const).flatMap(
    (way) => bottleneckOf(rig, way)?.ceiling ?? [],
  );
  return {
    letter,
    rigId: rig.id,
    name: rig.name,
    seconds: times.median,
    waitedSeconds: waited.length > 0 ? summarise(waited.map((ms) => ms / 1e3)).median : null,
    n: runs.length,
    spread: runs.length > 1 ? times.spread : null,
    ceiling: ceilings.length > 0 && Math.min(...ceilings) > 0 ? Math.min(...ceilings) : null,
    runIds: runs.map(({ id }) => id),
  };
}

/** Times closer than this nobody notices, as a share. */
export const UNNOTICED = 0.05;
/** A link is wider than another by at least so much. */
const WIDER = 1.2;

/**
 * What a piece of work says of the rigs, in one or two sentences: "The build takes 41 s through A and 12 s
 * through B. A wider link than that of B, 1 060 MB/s, changes nothing."
 */
export function tellWork({ name, rows }: WorkShown, { said }: RateWords): string {
  const [quickest, slowest] = [rows[0]!, rows.at(-1)!];
  const long = (seconds: number) => formatDuration(seconds * 1e3);
  const isAlike = slowest.seconds <= quickest.seconds * (1 + UNNOTICED);
  const takes =
    rows.length === 1
      ? `${name} takes ${long(quickest.seconds)} through ${quickest.letter}.`
      : isAlike
        ? `${name} takes about as long through every rig: ${long(quickest.seconds)} to ${long(slowest.seconds)}.`
        : `${name} takes ${long(slowest.seconds)} through ${slowest.letter} and ${long(quickest.seconds)} through ${quickest.letter}.`;
  const { waitedSeconds } = quickest;
  const enough = enoughOf(rows);
  const more =
    enough !== null
      ? ` A wider link than that of ${enough.letter}, ${said(enough.ceiling!)}, changes nothing.`
      : waitedSeconds === null
        ? ""
        : waitedSeconds < UNNOTICED * quickest.seconds
          ? ` Through ${quickest.letter} it waits ${long(waitedSeconds)} for the drive, so a quicker rig changes nothing.`
          : ` Through ${quickest.letter} it waits ${long(waitedSeconds)} for the drive: a quicker rig would save no more than that.`;
  return takes + more;
}

/** The narrowest of the rigs that are as quick as any, where one of them is wider; null where none is. */
function enoughOf(rows: readonly WorkRow[]): WorkRow | null {
  const quick = rows.filter(
    ({ seconds, ceiling }) => ceiling !== null && seconds <= rows[0]!.seconds * (1 + UNNOTICED),
  );
  const [narrowest, ...others] = quick.toSorted((a, b) => a.ceiling! - b.ceiling!);
  if (!narrowest) return null;
  return others.some(({ ceiling }) => ceiling! >= narrowest.ceiling! * WIDER) ? narrowest : null;
}
