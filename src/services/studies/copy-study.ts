import * as z from "zod";
import { PART_KIND_NAMES, type Part } from "@/core/chain/part";
import { flowParts, RigDraft, type Rig } from "@/core/chain/rig";
import { drillKey, type Drill } from "@/core/drills/drill";
import type { PlanRequest } from "@/core/plan/plan";
import type { UsualTest } from "@/core/plan/usual-tests";
import type { Slot } from "@/core/study/slot";
import { StudyDraft } from "@/core/study/study";
import type { Store } from "@/store/database";
import { plansOfStudy } from "@/store/plans";
import * as studies from "@/store/studies";
import { checked, Problem } from "../problem";
import { shelfFor } from "../shelf/shelf";
import { measurementsOf, openStudy, addRig, createStudy } from "./studies";

const partsOf = (rig: Rig): Part[] => [...flowParts(rig), ...rig.beside];

/** The places of a study's rigs, each part once, from host to drive. @throws Problem 404 */
export function slotsOf(store: Store, studyId: string): Slot[] {
  const { rigs } = openStudy(store, studyId);
  const shelf = shelfFor(store, null);
  const parts = new Map(rigs.flatMap((rig) => partsOf(rig).map((part) => [part.id, part])));
  return [...parts.values()].map(({ id, name, kind }) => {
    const alike = shelf.filter((other) => other.kind === kind && other.id !== id);
    return {
      part: { id, name },
      kind: PART_KIND_NAMES[kind],
      others: [{ id, name }, ...alike.map((other) => ({ id: other.id, name: other.name }))],
    };
  });
}

const CopyRequest = z.object({
  title: StudyDraft.shape.title,
  /** For each part whose place another part takes: its id, and that of the other one. */
  parts: z.record(z.string().max(80), z.string().max(80)).default({}),
});

/**
 * Makes a study like another one, without its runs: its rigs with other parts in some places, what its drive is
 * wanted for, and what its verdicts allow for. What was told of a link or held of it goes where a part goes.
 *
 * @returns its id
 * @throws Problem naming what is wrong; nothing is made then
 */
export function copyStudy(store: Store, studyId: string, input: unknown): { id: string } {
  const { title, parts } = checked(CopyRequest, input);
  const { study } = openStudy(store, studyId);
  if (study.simulated)
    throw new Problem(422, "A sample study is not copied: its parts are none of yours.");
  const put = (ids: readonly string[]) => ids.map((id) => parts[id] ?? id);
  const stays = ({ partId }: { partId: string }) => put([partId])[0] === partId;
  return store.transaction(() => {
    const { tolerance, smallestEffect, demands, tags = [] } = study;
    const id = createStudy(store, { title, tolerance, smallestEffect });
    studies.updateDemands(store, id, demands);
    studies.updateLabels(store, id, { title, tags });
    for (const stored of studies.rigsOfStudy(store, studyId)) {
      const rig = RigDraft.parse(stored);
      addRig(store, id, {
        ...rig,
        partIds: put(rig.partIds),
        besideIds: put(rig.besideIds),
        otherIds: put(rig.otherIds),
        settled: rig.settled.filter((one) => one.by === "tester" && stays(one)),
        held: rig.held.filter(stays),
        photos: [],
      });
    }
    return { id };
  });
}

/** Drills of a plan at most, and signs of the name of what is measured in its title. */
const MOST_DRILLS = 30;
const LONGEST_NAME = 60;

/**
 * What a study measured, as a test to be done again: the drills of its latest plan, or those of its runs.
 *
 * @returns null where there is no such study, or it measured nothing
 */
export function testLike(store: Store, studyId: string | null): UsualTest | null {
  const study = studyId === null ? null : studies.getStudy(store, studyId);
  if (!study) return null;
  const [plan] = plansOfStudy(store, study.id);
  const levels = plan?.plan.fillLevels ?? [];
  // Of a plan with fill levels each drill stands once for each of them.
  const drills = (
    plan
      ? plan.plan.drills.slice(0, plan.plan.drills.length / Math.max(1, levels.length))
      : drillsOf(store, study.id)
  ).map(asked);
  if (drills.length === 0) return null;
  return {
    id: study.id,
    name: `“${study.title.slice(0, LONGEST_NAME)}”`,
    question: study.title,
    path: [],
    drills,
    ...(levels.length > 0 ? { fillLevels: levels } : {}),
    read: "",
  };
}

/** A drill without what a plan says of all its drills. */
const asked = ({ repeats: _, ...drill }: Drill): PlanRequest["drills"][number] => drill;

/** The drills of a study's runs, the first that were measured first. */
function drillsOf(store: Store, studyId: string): Drill[] {
  const drills = new Map(
    measurementsOf(store, studyId)
      .filter(({ origin, warmUp }) => origin === "measured" && !warmUp)
      .map(({ drill }) => [drillKey(drill), drill]),
  );
  return [...drills.values()].reverse().slice(0, MOST_DRILLS);
}
