import { plainRig } from "../exchange/plain-rig";
import { BARE_RIG, type Rig } from "../chain/rig";
import type { ErrorCount, Sample } from "../run/result";
import type { Correction } from "../run/mark";
import { rowOf } from "../exchange/runs-file";

/** Rows of an archive that make up a study, as they were read; documents are parsed. */
export interface StudyRows {
  /** The latest of the study. */
  study: StudyFrame;
  /** In the order of their beginning. */
  runs: RunRows[];
  /** Rigs as they were, by their versions. */
  rigs: ReadonlyMap<string, Rig>;
}

/** A study's file without its runs. */
interface StudyFrame {
  parts: { id: string }[];
  rigs: ({ id: string; partIds: string[] } & Partial<Record<"besideIds" | "otherIds", string[]>>)[];
  [field: string]: unknown;
}

/** A run with everything that was kept of it. */
export interface RunRows {
  measurementId: string;
  repeat: number;
  rigId: string;
  rigVersion: string;
  origin: string;
  reason: string | null;
  warmUp: boolean;
  status: string;
  /** As it is now, not as it was when archived. */
  leftOut: string | null;
  corrections: Correction[];
  drill: unknown;
  document: {
    status: string;
    createdAt: string;
    startedAt: string;
    stated: unknown;
    targets: string[];
    errors: ErrorCount[];
  };
  conditions: unknown;
  steps: unknown[];
  samples: Sample[];
  events: unknown[];
  readings: unknown[];
}

/**
 * A study's file as it was archived last, with all of its archived runs: what is taken in by any bench. Its
 * pictures and recordings are not in an archive.
 */
export function studyFileOf({ study, runs, rigs }: StudyRows): Record<string, unknown> {
  const measurements = new Map<string, RunRows[]>();
  for (const run of runs) {
    const alike = measurements.get(run.measurementId);
    if (alike) alike.push(run);
    else measurements.set(run.measurementId, [run]);
  }
  return {
    ...study,
    runs: [...measurements.values()].map((alike) => {
      const [{ measurementId, rigId, rigVersion, drill, origin, reason, warmUp, ...first }] =
        alike as [RunRows];
      const { status, createdAt, stated, targets } = first.document;
      const then = rigs.get(rigVersion);
      return {
        id: measurementId,
        rigId,
        drill,
        origin,
        status,
        reason,
        createdAt,
        warmUp,
        stated,
        conditions: first.conditions,
        targets,
        ...(then && !isAsNow(then, study) ? { rigThen: then } : {}),
        runs: alike.toSorted((a, b) => a.repeat - b.repeat).map(recorded),
      };
    }),
  };
}

const recorded = (run: RunRows) => ({
  status: run.status,
  startedAt: run.document.startedAt,
  steps: run.steps,
  samples: run.samples.map(rowOf),
  events: run.events,
  readings: run.readings,
  errors: run.document.errors,
  ...(run.corrections.length > 0 ? { corrections: run.corrections } : {}),
  ...(run.leftOut === null ? {} : { leftOut: run.leftOut }),
});

/** Whether a rig stands in the study as it was when measured. */
function isAsNow(then: Rig, { parts, rigs }: StudyFrame): boolean {
  const now = rigs.find(({ id }) => id === then.id);
  if (!now) return false;
  const { partIds, besideIds = [], otherIds = [], ...rest } = now;
  const find = (ids: readonly string[]) =>
    ids.flatMap((id) => (parts.find((part) => part.id === id) as Rig["parts"][number]) ?? []);
  const { out: _out, ...drafted } = rest as Record<string, unknown>;
  const whole = {
    ...BARE_RIG,
    ...drafted,
    parts: find(partIds),
    beside: find(besideIds),
    other: find(otherIds),
  } as unknown as Rig;
  return sorted(plainRig(whole)) === sorted(plainRig({ ...BARE_RIG, ...then }));
}

/** JSON whose fields stand in one order, whichever they were given in. */
const sorted = (value: object): string =>
  JSON.stringify(value, (_, one: unknown) =>
    one !== null && typeof one === "object" && !Array.isArray(one)
      ? Object.fromEntries(Object.entries(one).toSorted(([a], [b]) => (a < b ? -1 : 1)))
      : one,
  );
