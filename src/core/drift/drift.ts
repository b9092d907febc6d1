import { SMALLEST_EFFECT } from "../stats/compare";
import { levelShift, regression, trend, type Estimate, type LevelShift, type Point } from "./fit";
import { joinSeries, membersOf, type Series } from "./series";

/** A share with its 95 % interval: -0.09 is 9 % slower. */
export interface Change {
  share: number;
  low: number;
  high: number;
}

/** Something that told another value after a change than before. */
export interface Meanwhile {
  what: string;
  from: string;
  to: string;
}

/** Why nothing is said: too few days, too much noise, or another part explains what was lost. */
export type Open = "few-days" | "noise" | "another";

/** How the rates of everything that a part stands in changed over time. */
export interface Drift {
  /** The part's id; of a machine that measured, `hostMember` of its name. */
  of: string;
  /** Open, where neither a change nor its absence is shown. */
  state: "slower" | "faster" | "steady" | "open";
  open: Open | null;
  /** First and last day that it was measured on, and on how many days. */
  first: string;
  last: string;
  days: number;
  /** What it rests on: series of two days or more. */
  series: Series[];
  /** How much the rates changed from the first day to the last; null where the days are too few. */
  change: Change | null;
  /** Whether the rates changed at once, or a little every day. */
  shape: "step" | "slope" | null;
  /** When they changed at once: between two days, which are this far from certain. */
  step: { dayBefore: string; day: string; earliest: string; latest: string } | null;
  /** What a straight line makes of it: the change a year. */
  perYear: Change | null;
  /** Others that stood in the same rigs and may be what changed instead. */
  together: string[];
  /** Others that explain the change where this part does not. */
  explainedBy: string[];
  /** What changed at the same time. */
  meanwhile: Meanwhile[];
  /** What to measure again: it was measured before the change, and holds fewer of those that may have changed. */
  next: Series | null;
}

/** A change is shown where chance brings it less often than this; with a shelf of parts, 5 % would warn for nothing. */
export const SHOWN_BELOW = 0.01;

const DAY_MS = 86_400_000;
const DAYS_A_YEAR = 365.25;

const dayNumber = (day: string): number => Date.parse(`${day}T00:00:00Z`) / DAY_MS;
const dayText = (day: number): string => new Date(day * DAY_MS).toISOString().slice(0, 10);

interface Member {
  of: string;
  /** Indexes of its series. */
  in: number[];
  points: Point[];
  shift: LevelShift | null;
  slope: Estimate | null;
}

/**
 * Returns for every part that stands in a measured rig, and for every machine that measured, whether it became
 * slower. A part is compared with itself only: each set-up, measured alike on several days, has a level of its
 * own, and all of them share one change. Where several parts stand in the rigs that became slower, each is
 * fitted beside each other one: whoever still explains something beside the other is what changed.
 *
 * @param all series of all studies, of sample data or of the tester's own
 */
export function driftsOf(all: readonly Series[]): Map<string, Drift> {
  const series = joinSeries(all);
  const members = new Map<string, Member>();
  series.forEach((one, at) => {
    for (const of of membersOf(one)) {
      const known = members.get(of) ?? { of, in: [], points: [], shift: null, slope: null };
      members.set(of, known);
      known.in.push(at);
      // A series of one day tells of no change.
      if (one.days.length > 1)
        for (const { day, mbps } of one.days)
          known.points.push({ series: at, day: dayNumber(day), value: Math.log(mbps) });
    }
  });
  const drifts = new Map<string, Drift>();
  for (const member of members.values()) {
    member.shift = levelShift(member.points);
    member.slope = trend(member.points);
    drifts.set(member.of, ownDrift(member, series));
  }
  const changed = [...drifts.values()].filter(hasChanged);
  for (const drift of changed) weigh(drift, changed, members, series);
  const causes = new Set(changed.flatMap((one) => (one.explainedBy.length > 0 ? [] : one.of)));
  for (const drift of changed) settle(drift, causes);
  for (const drift of changed) drift.next = nextOf(drift, members.get(drift.of)!, series);
  return drifts;
}

const hasChanged = ({ state }: Drift): boolean => state === "slower" || state === "faster";

/** What its own series say of a part, whatever else stands in them. */
function ownDrift(member: Member, series: readonly Series[]): Drift {
  const { shift, slope } = member;
  const own = member.in.map((at) => series[at]!);
  const all = own.flatMap(({ days }) => days.map(({ day }) => day)).toSorted();
  const drift: Drift = {
    of: member.of,
    state: "open",
    open: "few-days",
    first: all[0]!,
    last: all.at(-1)!,
    days: new Set(all).size,
    series: own.filter(({ days }) => days.length > 1),
    change: null,
    shape: null,
    step: null,
    perYear: null,
    together: [],
    explainedBy: [],
    meanwhile: [],
    next: null,
  };
  if (!shift || !slope) return drift;
  const overall = changeOf(slope, longest(drift.series));
  const isStep = shift.residual <= slope.residual;
  const change = isStep ? changeOf(shift, 1) : overall;
  const { p } = isStep ? shift : slope;
  const isChange = p < SHOWN_BELOW && Math.abs(change.share) >= SMALLEST_EFFECT;
  const isSteady = overall.low > -SMALLEST_EFFECT && overall.high < SMALLEST_EFFECT;
  const state = isChange ? (change.share < 0 ? "slower" : "faster") : isSteady ? "steady" : "open";
  return {
    ...drift,
    state,
    open: state === "open" ? "noise" : null,
    change: isChange ? change : overall,
    shape: isChange ? (isStep ? "step" : "slope") : null,
    step: isChange && isStep ? daysOfStep(shift) : null,
    perYear: changeOf(slope, DAYS_A_YEAR),
    meanwhile: isChange ? meanwhileOf(drift.series, dayText(shift.day)) : [],
  };
}

/** Days between the first and the last of the series that lasts longest. */
const longest = (series: readonly Series[]): number =>
  Math.max(...series.map(({ days }) => dayNumber(days.at(-1)!.day) - dayNumber(days[0]!.day)));

/** @param days over which a coefficient a day is to be told; 1 for one that is no slope */
const changeOf = ({ value, low, high }: Estimate, days: number): Change => ({
  share: Math.expm1(value * days),
  low: Math.expm1(low * days),
  high: Math.expm1(high * days),
});

const daysOfStep = ({ dayBefore, day, earliest, latest }: LevelShift) => ({
  dayBefore: dayText(dayBefore),
  day: dayText(day),
  earliest: dayText(earliest),
  latest: dayText(latest),
});

/** What is told of days before a change and after it, and never the same. */
function meanwhileOf(series: readonly Series[], day: string): Meanwhile[] {
  const found = new Map<string, { before: string[]; after: string[] }>();
  const days = series.flatMap((one) => one.days).toSorted((a, b) => a.day.localeCompare(b.day));
  for (const one of days)
    for (const [what, value] of Object.entries(one.states)) {
      const known = found.get(what) ?? { before: [], after: [] };
      found.set(what, known);
      (one.day < day ? known.before : known.after).push(value);
    }
  return [...found].flatMap(([what, { before, after }]) =>
    before.length > 0 && after.length > 0 && !before.some((value) => after.includes(value))
      ? [{ what, from: before.at(-1)!, to: after[0]! }]
      : [],
  );
}

/** Holds a changed part against each other one that changed in the same rigs. */
function weigh(
  drift: Drift,
  changed: readonly Drift[],
  members: ReadonlyMap<string, Member>,
  series: readonly Series[],
): void {
  const own = members.get(drift.of)!;
  const beside = new Set(own.in.flatMap((at) => membersOf(series[at]!)));
  for (const { of } of changed) {
    if (of === drift.of || !beside.has(of)) continue;
    const cause = besideEachOther(own, members.get(of)!);
    if (cause === "other") drift.explainedBy.push(of);
    if (cause === "either") drift.together.push(of);
  }
}

/** Once all were weighed: a part whose change another one explains is no cause, of its own change or of others'. */
function settle(drift: Drift, causes: ReadonlySet<string>): void {
  drift.together = drift.together.filter((of) => causes.has(of));
  if (causes.has(drift.of)) return;
  drift.state = "open";
  drift.open = "another";
  const named = drift.explainedBy.filter((of) => causes.has(of));
  if (named.length > 0) drift.explainedBy = named;
}

/** Which of two parts explains the change of the rigs that either stands in. */
function besideEachOther(a: Member, b: Member): "own" | "other" | "either" {
  const [inA, inB] = [new Set(a.in), new Set(b.in)];
  const seen = new Set(a.in);
  const points = [...a.points, ...b.points.filter(({ series }) => !seen.has(series))];
  const fits = regression(points, [regressor(a, inA), regressor(b, inB)]);
  if (!fits) return "either";
  const [own, other] = fits.map(({ p }) => p < SHOWN_BELOW) as [boolean, boolean];
  if (own) return "own";
  return other ? "other" : "either";
}

/** The change of a part, in the series that it stands in. */
function regressor({ shift, slope }: Member, inIt: ReadonlySet<number>) {
  const isStep = shift!.residual <= slope!.residual;
  return ({ series, day }: Point): number =>
    !inIt.has(series) ? 0 : isStep ? Number(day >= shift!.day) : day;
}

function nextOf(
  drift: Drift,
  { in: own, shift }: Member,
  series: readonly Series[],
): Series | null {
  if (drift.together.length === 0) return null;
  const day = dayText(shift!.day);
  const holds = (one: Series) => membersOf(one).filter((of) => drift.together.includes(of)).length;
  const fit = own
    .map((at) => series[at]!)
    .filter((one) => one.days.at(-1)!.day < day && holds(one) < drift.together.length);
  return fit.toSorted((a, b) => holds(a) - holds(b))[0] ?? null;
}
