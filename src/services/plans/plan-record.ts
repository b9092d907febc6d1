import { secondsLeft } from "@/core/plan/estimate";
import { isOver, type Plan, type PlanState, type PlanStep } from "@/core/plan/plan";
import { planTable, type PlanTable } from "@/core/plan/table";
import type { BriefResult } from "@/core/run/brief";
import type { PlanView } from "@/core/plan/view";
import type { Store } from "@/store/database";
import * as rows from "@/store/plans";
import { briefRunsOfMeasurements } from "@/store/runs";
import { getStudy } from "@/store/studies";
import { openStudy } from "../studies/studies";
import { getMeasurement } from "@/store/measurements";
import type { Keeper } from "../measuring/keeper";
import { Problem } from "../problem";

/** How plans stand: kept in the store, and told to whoever follows. */
export class PlanRecord {
  private readonly followers = new Map<string, Set<(view: PlanView) => void>>();

  constructor(
    readonly store: Store,
    /** Keeps what changes, also where the store cannot be written for a while. */
    private readonly keeper: Keeper,
  ) {}

  /** A plan as it stands. @throws Problem 404 */
  view(id: string): PlanView {
    const { studyId, plan, steps, state, words } = this.row(id);
    return {
      id,
      studyId,
      plan,
      steps,
      state,
      words,
      table: this.table(studyId, plan, steps),
      secondsLeft: secondsLeft(plan, steps, this.took(steps)),
    };
  }

  /** Follows a plan; told at once and whenever it changes. @returns ends the following */
  follow(id: string, follower: (view: PlanView) => void): () => void {
    const all = this.followers.get(id) ?? new Set();
    this.followers.set(id, all.add(follower));
    follower(this.view(id));
    return () => all.delete(follower);
  }

  /** @throws Problem 404 */
  row(id: string): rows.PlanRow {
    const row = rows.getPlan(this.store, id);
    if (!row) throw new Problem(404, "There is no such plan.");
    return { ...row, ...this.keeper.changeOf(id) };
  }

  change(id: string, change: Parameters<typeof rows.updatePlan>[2]): void {
    this.keeper.keep({ do: "plan", id, change });
    for (const follower of this.followers.get(id) ?? []) follower(this.view(id));
  }

  /** @returns false where the plan was aborted meanwhile: that stays so */
  set(id: string, state: PlanState): boolean {
    if (isOver(this.row(id).state)) return false;
    this.change(id, { state });
    return true;
  }

  setStep(id: string, stepId: string, change: Partial<PlanStep>): void {
    const steps = this.row(id).steps.map((step) =>
      step.id === stepId ? { ...step, ...change } : step,
    );
    this.change(id, { steps });
  }

  private table(studyId: string, plan: Plan, steps: readonly PlanStep[]): PlanTable {
    const ids = steps.flatMap(({ measurementId }) => measurementId ?? []);
    const results = new Map<string, BriefResult[]>();
    for (const run of briefRunsOfMeasurements(this.store, ids)) {
      if (!run.result || run.leftOut !== null) continue;
      results.set(run.measurementId, [...(results.get(run.measurementId) ?? []), run.result]);
    }
    // Another tab may have removed the study: the plan is followed to its end all the same.
    const rigs = getStudy(this.store, studyId) ? openStudy(this.store, studyId).rigs : [];
    return planTable(plan, steps, rigs, (id) => results.get(id) ?? []);
  }

  /** Seconds that each finished run took. */
  private took(steps: readonly PlanStep[]): Map<string, number> {
    const found = new Map<string, number>();
    for (const { id, state, measurementId } of steps) {
      const row =
        state === "done" && measurementId ? getMeasurement(this.store, measurementId) : null;
      if (row?.endedAt) {
        found.set(id, (Date.parse(row.endedAt) - Date.parse(row.createdAt)) / 1000);
      }
    }
    return found;
  }
}

/** A run of a plan. @throws Problem 404 */
export function findStep(steps: readonly PlanStep[], id: string): PlanStep {
  const step = steps.find((one) => one.id === id);
  if (!step) throw new Problem(404, "There is no such run in the plan.");
  return step;
}
