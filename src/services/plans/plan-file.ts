import path from "node:path";
import type { PlanFile } from "@/core/exchange/plan-file";
import { Plugged } from "@/engine/plugged/follow";
import type { PlanStep } from "@/core/plan/plan";
import { checkFolder } from "@/store/check";
import { openStore, type Store } from "@/store/database";
import { ownFolder } from "@/store/owner";
import { allPlans, updatePlan } from "@/store/plans";
import { Ballasts } from "../ballast/ballasts";
import { thisMachine } from "../hosts/machines";
import { Desk } from "../measuring/desk";
import { PlanBench } from "./plan-bench";
import { Planner } from "./planner";
import { addPart } from "../shelf/shelf";
import { addRig, createStudy } from "../studies/studies";

/** A bench of its own for one plan. */
export interface PlanRoom {
  store: Store;
  studyId: string;
  planId: string;
  planner: Planner;
  /** Whether an earlier command began it. */
  resumed: boolean;
  /** Ends what is still under way, and waits for it. */
  settle(): Promise<void>;
  close(): void;
}

/**
 * Makes everything that a plan's file names, in a data folder of its own, and the plan; `planner.go`
 * begins it. Where the folder holds that plan already, cut short by the end of its program, it goes on
 * with what is left of it.
 *
 * @param folder where the data lies meanwhile
 * @param program where Nerrit itself lies
 * @param root where the kernel's tree is read
 * @throws Problem that names what makes no sense
 */
export async function openPlanRoom(
  file: PlanFile,
  folder: string,
  program: string,
  version: string,
  root: string,
): Promise<PlanRoom> {
  checkFolder(folder);
  const release = ownFolder(folder, null);
  const store = openStore(folder, path.join(program, "src", "store", "migrations"));
  const engine = path.join(program, "dist", "engine.mjs");
  const desk = new Desk(store, folder, version, engine);
  const ballasts = new Ballasts(folder, engine);
  const planner = new Planner(store, desk, new PlanBench(new Plugged(root), thisMachine(root)), {
    ownFolder: folder,
    ballasts,
  });
  const [begun] = allPlans(store);
  const { studyId, planId } = begun
    ? takenUp(begun.id, begun.studyId, desk, planner, store)
    : await laidOut(file, store, planner);
  return {
    store,
    studyId,
    planId,
    planner,
    resumed: begun !== undefined,
    async settle() {
      await Promise.all([desk.shutDown(), planner.shutDown()]);
      await ballasts.shutDown();
      desk.keeper.close();
    },
    close() {
      store.$client.close();
      release();
    },
  };
}

/** What was left of a plan waits again: the run that was cut short, and all that never began. */
function takenUp(planId: string, studyId: string, desk: Desk, planner: Planner, store: Store) {
  desk.recover();
  updatePlan(store, planId, { state: { kind: "paused", why: null } });
  planner.recover();
  const { steps } = planner.view(planId);
  const again = (step: PlanStep): PlanStep =>
    step.state === "failed" ? { ...step, state: "waiting", measurementId: null } : step;
  updatePlan(store, planId, {
    steps: steps.map(again),
    state: { kind: "paused", why: null },
    // Nobody knows what was changed on the bench meanwhile.
    pluggedRigs: [],
  });
  return { studyId, planId };
}

/** Puts a plan's gear, rigs and runs into an empty store. */
async function laidOut(file: PlanFile, store: Store, planner: Planner) {
  const { format: _, version: _version, parts, rigs, ...plan } = file;
  const studyId = createStudy(store, { title: file.title || "Plan" });
  const ids = new Map(parts.map((part) => [part.name, addPart(store, part)]));
  const idsOf = (names: readonly string[]) => names.map((name) => ids.get(name)!);
  const planned = rigs.map(({ target, parts: chain, beside, ...rig }) => ({
    target,
    rigId: addRig(store, studyId, {
      ...rig,
      partIds: idsOf(chain),
      besideIds: idsOf(beside),
    }),
  }));
  // The data lies here for as long as the plan runs, and nowhere that the tester has chosen.
  const planId = await planner.create(studyId, { ...plan, rigs: planned, besideOwnData: true });
  return { studyId, planId };
}
