import type { RunEvent } from "../run/result";
import { counted } from "../units/counted";
import { formatDuration, formatPercent } from "../units/number";
import { causesOf, dipsAreHeat, DROP, isDrop, type Cause, type Surroundings } from "./cause";
import { type Change } from "./changes";
import { endOf, startOf, type Flow } from "./flow";
import type { HappeningName, LevelName, Mark } from "../run/mark";
import { briefsOf, periodOf, type Brief } from "./short";

/** More single dips than this are counted, not listed. */
const LISTED = 12;

const EVENTS: Record<RunEvent["kind"], HappeningName> = {
  gone: "gone",
  reset: "reset",
  error: "error",
  stalled: "stall",
  throttled: "heat",
  link: "link",
  kernel: "kernel",
  space: "space",
  note: "note",
  mark: "mark",
};

/**
 * Everything that is found in a trace, as marks: where each level begins and what it is, and what
 * happened besides.
 *
 * @param changes of its level, in order of time
 * @param events that the engine or the system told of
 */
export function marksOf(
  flow: Flow,
  changes: readonly Change[],
  around: Surroundings,
  events: readonly RunEvent[],
): Mark[] {
  if (flow.to.length === 0) return [];
  const causes = causesOf(changes, around, endOf(flow));
  return [
    ...levelMarks(flow, changes, causes, around.writing),
    ...briefMarks(briefsOf(flow, changes), events, around),
    ...events.map((event) => markOf("happening", EVENTS[event.kind], event.ms, null, event.text)),
  ].sort((a, b) => a.ms - b.ms);
}

const markOf = (
  of: Mark["of"],
  name: Mark["name"],
  ms: number,
  until: number | null,
  text: string,
): Mark => ({ id: `${of} ${Math.round(ms)} ${name}`, of, name, ms, until, text, corrected: null });

function levelMarks(
  flow: Flow,
  changes: readonly Change[],
  causes: readonly (Cause | null)[],
  writing: boolean,
): Mark[] {
  const isEdge = (change: Change, cause: Cause | null) =>
    cause?.kind === "cache" || (cause?.kind === "unknown" && writing && isDrop(change));
  const first = causes.findIndex((cause) => cause !== null);
  const opening: LevelName =
    first >= 0 && isEdge(changes[first]!, causes[first]!) ? "burst" : "steady";
  const marks = [markOf("level", opening, startOf(flow), null, "how it begins")];
  let name: LevelName = opening;
  changes.forEach((change, i) => {
    const cause = causes[i] ?? null;
    name = nameAfter(name, change, cause, isEdge(change, cause));
    const words =
      `${change.after < change.before ? "falls" : "rises"} to ${formatPercent(change.after / change.before)} of what it was` +
      (change.gradual ? ", over a while" : "") +
      (cause && cause.because.length > 0 ? `: ${cause.because.join("; ")}` : "");
    const mark = markOf("level", name, change.ms, null, words);
    marks.push(cause?.kind === "unknown" && isDrop(change) ? { ...mark, open: true } : mark);
  });
  return marks;
}

/** @param isEdge whether it is a lasting drop of a write that no heat explains */
function nameAfter(
  before: LevelName,
  change: Change,
  cause: Cause | null,
  isEdge: boolean,
): LevelName {
  if (cause?.kind === "heat") return "throttled";
  if (isEdge) return "folded";
  if (change.after > change.before / DROP)
    return before === "folded" || before === "throttled" ? "recovery" : before;
  // Somewhat less than before, and not enough to be an edge: what it was called goes on.
  return before;
}

function briefMarks(
  briefs: readonly Brief[],
  events: readonly RunEvent[],
  around: Surroundings,
): Mark[] {
  const marks: Mark[] = [];
  // What the engine told of itself is not found a second time.
  const told = (brief: Brief) =>
    events.some(
      ({ kind, ms }) =>
        (kind === "stalled" || kind === "reset") && ms >= brief.ms - 500 && ms <= brief.until + 500,
    );
  for (const kind of ["stall", "gap"] as const) {
    const found = briefs.filter((brief) => brief.kind === kind && (kind === "gap" || !told(brief)));
    for (const { ms, until } of found.slice(0, LISTED)) {
      const long = formatDuration(until - ms);
      marks.push(
        markOf(
          "happening",
          kind,
          ms,
          until,
          kind === "stall" ? `nothing moved for ${long}` : `nothing was sampled for ${long}`,
        ),
      );
    }
    if (found.length > LISTED) {
      const rest = found.slice(LISTED);
      marks.push(
        markOf(
          "happening",
          kind,
          rest[0]!.ms,
          rest.at(-1)!.until,
          `and ${counted(rest.length, "more")} until ${formatDuration(rest.at(-1)!.until)}`,
        ),
      );
    }
  }
  const dips = briefs.filter(({ kind }) => kind === "dip");
  if (dipsAreHeat(dips, around)) {
    const words = `${counted(dips.length, "dip")}, each beginning hot and ending cooler: it slows down for its heat`;
    marks.push(markOf("happening", "heat", dips[0]!.ms, dips.at(-1)!.until, words));
  }
  const period = periodOf(dips);
  if (period) {
    const words = `${counted(period.count, "dip")}, one every ${formatDuration(period.seconds * 1e3)}, of ${formatDuration(period.long)}, to ${formatPercent(period.leaves)}`;
    return [...marks, markOf("happening", "dips", period.ms, period.until, words)];
  }
  for (const { ms, until, leaves } of dips.slice(0, LISTED)) {
    const words = `for ${formatDuration(until - ms)} to ${formatPercent(leaves ?? 0)} of the rate`;
    marks.push(markOf("happening", "dip", ms, until, words));
  }
  if (dips.length > LISTED) {
    const rest = dips.slice(LISTED);
    const words = `${counted(rest.length, "more dip")}, at no even distance`;
    marks.push(markOf("happening", "dips", rest[0]!.ms, rest.at(-1)!.until, words));
  }
  return marks;
}
