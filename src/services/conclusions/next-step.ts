import { randomUUID } from "node:crypto";
import * as z from "zod";
import { differences } from "@/core/chain/difference";
import type { Rig, RigDraft } from "@/core/chain/rig";
import { DrillDirectionSchema } from "@/core/drills/drill";
import { rowOf } from "@/core/exchange/runs-file";
import { LONGEST } from "@/core/locate/observations/signs/fall";
import { setUpKey } from "@/core/chain/set-up";
import { faultsIn } from "@/core/simulate/faults";
import { simulatedDrill, simulateRepeats } from "@/core/simulate/measure";
import { Simulation } from "@/core/simulate/model";
import { hash } from "@/core/simulate/noise";
import { simulatedConditions } from "@/core/simulate/run";
import { changedRig, type AskedRig } from "@/core/study/asked-rig";
import { UNSAID } from "@/core/run/stated";
import { TransportId } from "@/core/ledger/mode";
import { targetsOf } from "@/core/study/measurement";
import { blockSchema, depthSchema } from "@/core/units/request";
import { line } from "@/core/units/text";
import { hostNames } from "@/store/hosts";
import { placeFrom, placeText } from "@/core/units/place";
import type { Store } from "@/store/database";
import { deleteRig, extrasOf } from "@/store/studies";
import packageJson from "../../../package.json";
import { openCompared, type Compared } from "./comparison";
import type { Planner } from "../plans/planner";
import { checked, checkedBy, Problem } from "../problem";
import { insertRecorded } from "../elsewhere/runs-file";
import { shelfFor } from "../shelf/shelf";
import { addRig } from "../studies/studies";

const Step = z.object({
  rig: z.object({
    like: z.string(),
    parts: z.array(z.string()).max(24).optional(),
    transport: TransportId.nullable().optional(),
    fileSystem: line(40).optional(),
    host: line(80).optional(),
    bay: line(20).optional(),
  }),
  drill: z.string(),
  direction: DrillDirectionSchema,
  set: z.object({ block: blockSchema.optional(), depth: depthSchema.optional() }).default({}),
});

/** What became of a step: its rig, and the plan or the simulated runs of it. */
export interface MadeStep {
  rigId: string;
  /** Null where it is not known where to measure it. */
  planId: string | null;
  /** Of a sample study, whose parts are nowhere else than on the simulated bench. */
  measurementId: string | null;
}

/** Enough for an interval; a long fill writes a drive full, and tells its course once it did. */
const repeatsOf = (drill: string) => (drill === LONGEST ? 1 : 3);

/**
 * Turns a step into a rig of the study, where there is none like it yet, and a plan that measures it. In
 * a study of the sample data it is done at once on the simulated bench.
 *
 * @throws Problem that names what makes no sense
 */
export async function makeStep(
  store: Store,
  planner: Planner,
  studyId: string,
  input: unknown,
): Promise<MadeStep> {
  const { rig: asked, drill, direction, set } = checked(Step, input);
  const kept = openCompared(store, studyId);
  const { rigs } = kept;
  const like = rigs.find(({ id }) => id === asked.like);
  const made = like && changedRig(asked as AskedRig, like, shelfFor(store, studyId));
  if (!made) throw new Problem(422, "A part of that rig is not on the shelf any more.");
  const standing = rigs.find((rig) => setUpKey(rig) === setUpKey(made));
  const named = { ...made, name: nameOf(made, like!) };
  const rigId = standing?.id ?? addRig(store, studyId, draftOf(named));
  const rig: Rig = standing ?? { ...named, id: rigId };
  try {
    return {
      rigId,
      ...(await done(store, planner, kept, { rig, like: like!.id }, { drill, direction, set })),
    };
  } catch (error) {
    // A step that makes no sense leaves the study as it was.
    if (!standing) deleteRig(store, rigId);
    throw error;
  }
}

/** Measures a rig: on the simulated bench at once, or by a plan. */
async function done(
  store: Store,
  planner: Planner,
  kept: Compared,
  /** The rig, and the one that it is like. */
  { rig, like }: { rig: Rig; like: string },
  { drill, direction, set }: Pick<z.infer<typeof Step>, "drill" | "direction" | "set">,
): Promise<Omit<MadeStep, "rigId">> {
  const { study, measurements } = kept;
  if (study.simulated)
    return {
      planId: null,
      measurementId: simulate(store, study.id, rig, kept, { name: drill, direction, ...set }),
    };
  const target = targetFor(kept, rig, hostNames(store));
  if (target === null) return { planId: null, measurementId: null };
  const last = measurements.find(({ origin }) => origin === "measured");
  const planId = await planner.create(
    study.id,
    {
      title: `Next: ${rig.name}`.slice(0, 80),
      rigs: [{ rigId: rig.id, target }],
      drills: [{ ...settingsOf(kept, like, drill, direction), ...set, name: drill, direction }],
      repeats: repeatsOf(drill),
      reserve: reserveFor(kept, like),
      stated: last?.stated ?? UNSAID,
    },
    last ? [last.rigId] : [],
  );
  planner.go(planId);
  return { planId, measurementId: null };
}

const draftOf = ({ parts, beside, other, ...rest }: Rig): RigDraft => ({
  ...rest,
  partIds: parts.map(({ id }) => id),
  besideIds: beside.map(({ id }) => id),
  otherIds: other.map(({ id }) => id),
});

/** A made rig is called by the one it was made from and what is different. */
function nameOf(made: Rig, like: Rig): string {
  const what = differences(like, made).map((one) =>
    one.kind !== "part"
      ? { "file system": made.fileSystem, host: made.host, bay: `bay ${made.bay}` }[
          one.kind as string
        ] || one.kind
      : one.b
        ? `with ${one.b.name}`
        : `without ${one.a!.name}`,
  );
  return [like.name, ...what].filter(Boolean).join(", ").slice(0, 80);
}

/**
 * Where a rig with the same drive was measured last, on the rig's own machine; null where it was nowhere. Where it
 * was on other machines only, the same path: the plan finds the drive by its serial number.
 */
function targetFor({ measurements }: Compared, rig: Rig, hosts: string[]): string | null {
  const drive = rig.parts.at(-1)?.id;
  const host = hosts.find((name) => name === rig.host) ?? null;
  const places = measurements
    .filter(({ origin, rig: then }) => origin === "measured" && then.parts.at(-1)?.id === drive)
    .map((one) => placeFrom(targetsOf(one)[0] ?? ""));
  const found = places.find((place) => place.host === host) ?? places[0];
  return found?.path ? placeText({ host, path: found.path }) : null;
}

/** The settings of the same drill as it was done on a rig: only alike runs can be held against each other. */
function settingsOf(
  { measurements }: Compared,
  rigId: string,
  drill: string,
  direction: string,
): object {
  const alike = measurements.filter(
    (one) => one.drill.name === drill && one.drill.direction === direction,
  );
  const found = alike.find((one) => one.rigId === rigId) ?? alike[0];
  if (!found) return {};
  const { repeats: _, ...set } = found.drill;
  return set;
}

/** What is usually kept free at least, bytes. */
const USUAL_RESERVE = 2 ** 30;

/**
 * The space to keep free: as usual, but where a rig was measured last with less than that left, as little
 * as the tester allowed then.
 *
 * @param measurements the latest first
 * @returns bytes; null for as usual
 */
export function reserveFor(
  { measurements }: Pick<Compared, "measurements">,
  rigId: string,
): number | null {
  const done = measurements.find((one) => one.origin === "measured" && one.rigId === rigId);
  const free = done?.conditions?.freeBytes;
  const span = done && "span" in done.drill ? Number(done.drill.span) : NaN;
  return typeof free === "number" && free - span < USUAL_RESERVE ? 0 : null;
}

/** Does a drill on the simulated bench and keeps its runs. @returns the measurement's id */
function simulate(
  store: Store,
  studyId: string,
  rig: Rig,
  { rigs, measurements }: Compared,
  drill: { name: string; direction: string },
): string {
  const { simulation: filed } = extrasOf(store, studyId);
  const known = rigs.map((one) => ({ rig: one, faults: filed?.faults[one.id] ?? [] }));
  const simulation = checked(Simulation, {
    bench: filed?.bench ?? {},
    parts: filed?.parts ?? {},
    faults: faultsIn(rig, known),
  });
  const set = settingsOf({ measurements } as Compared, rig.id, drill.name, drill.direction);
  const exact = checkedBy(() =>
    simulatedDrill({ ...set, ...drill, repeats: repeatsOf(drill.name) }, rig, simulation),
  );
  const id = randomUUID();
  const createdAt = new Date().toISOString();
  const runs = checkedBy(() =>
    simulateRepeats(rig, exact, simulation, { seed: hash(`${rig.id} ${id}`) }),
  );
  insertRecorded(store, studyId, rig, {
    id,
    origin: "simulated",
    drill: exact,
    status: "done",
    reason: null,
    createdAt,
    warmUp: false,
    stated: UNSAID,
    targets: ["simulated rig"],
    conditions: simulatedConditions(rig, simulation, createdAt, packageJson.version),
    runs: runs.map((run) => ({
      status: "done" as const,
      startedAt: createdAt,
      steps: run.steps,
      samples: run.samples.map(rowOf),
      events: run.events,
      readings: run.readings,
      errors: run.errors,
    })),
  });
  return id;
}
