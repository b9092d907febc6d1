import * as z from "zod";
import { findDrill } from "../drills/catalogue";
import { titleOf } from "../drills/drill";
import { countedIn } from "../conclude/counting";
import { fileSystemOf, flowParts, type Rig } from "../chain/rig";
import {
  conditionsKey,
  counts,
  isHostSpoiled,
  type BriefMeasurement,
  type Observation,
} from "../study/measurement";
import { mean } from "simple-statistics";

/** What was measured on one day: the unit of drift, as repeats of one day share its circumstances. */
export const MeasuredDay = z.object({
  /** The day, in UTC: "2026-12-02". */
  day: z.string().regex(/^\d{4}-\d\d-\d\d$/),
  /** Mean rate of the day's runs, MB/s. */
  mbps: z.number().positive(),
  runs: z.number().int().positive(),
  /** What is told of that day and may change without anybody's saying so: "kernel of desk" to its version. */
  states: z.record(z.string(), z.string()),
});
export type MeasuredDay = z.infer<typeof MeasuredDay>;

/** The days on which one set-up was measured alike: nothing differs between them but what is not known. */
export const Series = z.object({
  /** Tells what was alike: the same items in the same places, drill, host, file system, way to the device. */
  key: z.string(),
  studyId: z.string(),
  rigId: z.string(),
  rigName: z.string(),
  /** The drill by its title, and which way it went. */
  drill: z.string(),
  direction: z.enum(["read", "write"]),
  /** Ids of the parts that the rig is made of. */
  parts: z.array(z.string()),
  /** The machine that measured; empty where nobody told. */
  host: z.string(),
  simulated: z.boolean(),
  /** The earliest first. */
  days: z.array(MeasuredDay),
});
export type Series = z.infer<typeof Series>;

/** The key by which a machine that measured stands among the parts. */
export const hostMember = (host: string): string => `host ${host}`;

/** The name of the machine that a key stands for; null where it stands for a part. */
export const hostOfMember = (of: string): string | null =>
  of.startsWith("host ") ? of.slice("host ".length) : null;

/** Everything that may have changed in a series, from the drive to the machine that measured. */
export const membersOf = ({ parts, host }: Pick<Series, "parts" | "host">): string[] => [
  ...parts.toReversed(),
  ...(host ? [hostMember(host)] : []),
];

/**
 * Returns what a study tells of drift: rates that Nerrit measured itself, by the day. What was typed or
 * imported has no certain day; what memory may have answered, or a busy host slowed down, tells nothing of parts.
 *
 * @param study its id, and whether it is sample data, whose simulated runs count
 * @param measurements the latest first
 */
export function seriesOf(
  study: { id: string; simulated: boolean },
  rigs: readonly Rig[],
  measurements: readonly BriefMeasurement[],
): Series[] {
  const origin = study.simulated ? "simulated" : "measured";
  const byId = new Map(measurements.map((one) => [one.id, one]));
  const found = new Map<string, { series: Series; of: BriefMeasurement[] }>();
  for (const seen of countedIn(rigs, measurements).counting) {
    if (seen.origin !== origin || seen.doubtful || isHostSpoiled(seen) || !isRate(seen)) continue;
    for (const id of seen.measurementIds) {
      const one = byId.get(id)!;
      const key = [conditionsKey(one), hostOf(one), fileSystemOf(one.rig), one.rig.farHost].join(
        "|",
      );
      const known = found.get(key);
      if (known) known.of.push(one);
      else
        found.set(key, { series: { ...headOf(one), key, studyId: study.id, days: [] }, of: [one] });
    }
  }
  return [...found.values()].flatMap(({ series, of }) => {
    const days = daysOf(of);
    return days.length > 0 ? [{ ...series, days }] : [];
  });
}

/** Drills that work was recorded for, or that go both ways at once, have no rate of one direction. */
const isRate = ({ drill }: Observation): boolean =>
  drill.direction !== "mixed" && findDrill(drill.name)?.recorded !== true;

const hostOf = ({ conditions, rig }: BriefMeasurement): string => conditions?.host || rig.host;

function headOf(one: BriefMeasurement): Omit<Series, "key" | "studyId" | "days"> {
  const { rig, drill, origin } = one;
  return {
    rigId: rig.id,
    rigName: rig.name,
    drill: titleOf(drill),
    direction: drill.direction === "write" ? "write" : "read",
    parts: [...new Set([...flowParts(rig), ...rig.beside].map(({ id }) => id))],
    host: hostOf(one),
    simulated: origin === "simulated",
  };
}

function daysOf(alike: readonly BriefMeasurement[]): MeasuredDay[] {
  const byDay = new Map<string, { rates: number[]; states: Record<string, string> }>();
  for (const one of alike.toReversed()) {
    const day = (one.conditions?.startedAt ?? one.createdAt).slice(0, 10);
    const rates = one.runs.flatMap((run) =>
      counts(run) && run.result!.meanMBps > 0 ? run.result!.meanMBps : [],
    );
    if (rates.length === 0) continue;
    const known = byDay.get(day) ?? { rates: [], states: {} };
    known.rates.push(...rates);
    Object.assign(known.states, statesOf(one));
    byDay.set(day, known);
  }
  return [...byDay]
    .map(([day, { rates, states }]) => ({
      day,
      mbps: mean(rates),
      runs: rates.length,
      states,
    }))
    .toSorted((a, b) => a.day.localeCompare(b.day));
}

/** What may have changed beside a part: the software of the host, and of each part. */
function statesOf(one: BriefMeasurement): Record<string, string> {
  const host = hostOf(one);
  return Object.fromEntries([
    ...(one.conditions?.kernel ? [[`kernel of ${host || "the host"}`, one.conditions.kernel]] : []),
    ...[...flowParts(one.rig), ...one.rig.beside].flatMap((part) =>
      part.firmware ? [[`firmware of ${part.name}`, part.firmware]] : [],
    ),
  ]) as Record<string, string>;
}

/** Joins what several studies measured alike. @returns each with its days, the earliest first */
export function joinSeries(all: readonly Series[]): Series[] {
  const found = new Map<string, Series[]>();
  for (const one of all) found.set(one.key, [...(found.get(one.key) ?? []), one]);
  return [...found.values()].map((alike) => {
    const [first] = alike as [Series];
    if (alike.length === 1) return first;
    const byDay = new Map<string, MeasuredDay>();
    for (const { days } of alike)
      for (const one of days) {
        const known = byDay.get(one.day);
        byDay.set(one.day, known ? togetherOn(known, one) : one);
      }
    return { ...first, days: [...byDay.values()].toSorted((a, b) => a.day.localeCompare(b.day)) };
  });
}

const togetherOn = (a: MeasuredDay, b: MeasuredDay): MeasuredDay => ({
  day: a.day,
  mbps: (a.mbps * a.runs + b.mbps * b.runs) / (a.runs + b.runs),
  runs: a.runs + b.runs,
  states: { ...a.states, ...b.states },
});
