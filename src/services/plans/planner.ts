import { randomUUID } from "node:crypto";
import { isOver, moveStep, type PlanStep } from "@/core/plan/plan";
import type { PlanView } from "@/core/plan/view";
import type { Store } from "@/store/database";
import * as rows from "@/store/plans";
import type { Ballasts } from "../ballast/ballasts";
import type { Desk } from "../measuring/desk";
import { log } from "../log";
import type { ActivePlan } from "./active-plan";
import { PlanBallast } from "./plan-ballast";
import type { PlanBench } from "./plan-bench";
import { planFrom } from "./plan-from";
import { findStep, PlanRecord } from "./plan-record";
import { PlanWorker } from "./plan-worker";
import { look } from "../measuring/preflight";
import { Problem } from "../problem";

/** Plans of studies: made, begun, steered, and taken up again after the end of the server. */
export class Planner {
  private readonly active = new Map<string, ActivePlan>();
  private readonly record: PlanRecord;
  private readonly ballast: PlanBallast;
  private readonly worker: PlanWorker;

  /** @param lookFirst looks over what a run would meet */
  constructor(
    private readonly store: Store,
    private readonly desk: Desk,
    private readonly bench: PlanBench,
    { ownFolder, ballasts }: { ownFolder: string; ballasts: Ballasts },
    lookFirst = look,
  ) {
    this.record = new PlanRecord(store, desk.keeper);
    this.ballast = new PlanBallast(this.record, ballasts);
    this.worker = new PlanWorker(this.record, desk, bench, ownFolder, lookFirst, this.ballast);
  }

  /**
   * Makes a plan; `go` begins it.
   *
   * @param pluggedRigs what is known to be put together now
   * @returns its id
   * @throws Problem that names what makes no sense
   */
  async create(studyId: string, input: unknown, pluggedRigs: string[] = []): Promise<string> {
    const { plan, steps, words } = await planFrom(this.store, studyId, input, this.bench.machines);
    const id = randomUUID();
    rows.insertPlan(this.store, {
      id,
      studyId,
      plan,
      steps,
      words,
      state: { kind: "paused", why: null },
      pluggedRigs,
      createdAt: new Date().toISOString(),
    });
    return id;
  }

  /** A plan as it stands. @throws Problem 404 */
  view(id: string): PlanView {
    return this.record.view(id);
  }

  /** Follows a plan; told at once and whenever it changes. @returns ends the following */
  follow(id: string, follower: (view: PlanView) => void): () => void {
    return this.record.follow(id, follower);
  }

  /** A study's plans, the latest first. */
  ofStudy(studyId: string): PlanView[] {
    return rows.plansOfStudy(this.store, studyId).map(({ id }) => this.record.view(id));
  }

  /** The plan that a study is at, or its last one; null where it has none. */
  latest(studyId: string): { id: string; over: boolean } | null {
    const [last] = rows.plansOfStudy(this.store, studyId);
    return last ? { id: last.id, over: isOver(last.state) } : null;
  }

  /** Begins, goes on after a pause, or takes what is plugged in for the rig that is waited for. */
  go(id: string): void {
    const active = this.active.get(id);
    if (active) {
      active.pausing = false;
      active.goOn = true;
      // The drive is filled to its end: without it the runs would be of another level.
      if (this.record.row(id).state.kind !== "filling") active.wake.abort();
      return;
    }
    if (isOver(this.record.row(id).state)) throw new Problem(409, "The plan is over.");
    const begun: ActivePlan = {
      wake: new AbortController(),
      goOn: false,
      confirmed: new Set(),
      pausing: false,
      over: Promise.resolve(),
    };
    this.active.set(id, begun);
    begun.over = this.worker
      .work(id, begun)
      .catch((error: unknown) => {
        log.error(error);
        this.record.set(id, { kind: "paused", why: "Nerrit failed; its log has the details." });
      })
      .finally(() => this.active.delete(id));
  }

  /** Lets the run that goes on end, and begins no further one. */
  pause(id: string): void {
    const active = this.active.get(id);
    if (!active) return;
    active.pausing = true;
    active.wake.abort();
  }

  /** Ends a plan; the run that goes on is stopped and keeps what it has. */
  abort(id: string): void {
    const { state, steps } = this.record.row(id);
    if (isOver(state)) return;
    const active = this.active.get(id);
    this.record.set(id, { kind: "aborted" });
    for (const step of steps) this.stopRun(step);
    if (active) return active.wake.abort();
    // Nobody works on it any more who would remove what it put onto drives.
    void this.ballast.removeAll(id).catch((error: unknown) => log.error(error));
  }

  /** Leaves a run out; one that goes on is stopped. */
  skip(id: string, stepId: string): void {
    const { steps, state } = this.record.row(id);
    const step = findStep(steps, stepId);
    if (step.state !== "waiting" && step.state !== "running") return;
    this.record.setStep(id, stepId, { state: "skipped", note: null });
    if (step.state === "running") this.stopRun(step);
    else if (state.kind === "hands") this.active.get(id)?.wake.abort();
  }

  /** Stops the run of a step that goes on, also where it was found again after the end of the server. */
  private stopRun({ state, measurementId }: PlanStep): void {
    if (state === "running" && measurementId !== null) this.desk.stop(measurementId);
  }

  /** Does a run once more, as the next one. */
  again(id: string, stepId: string): void {
    const { steps, state } = this.record.row(id);
    if (isOver(state)) throw new Problem(409, "The plan is over.");
    const step = findStep(steps, stepId);
    const at = steps.findIndex(({ state: of }) => of === "waiting");
    const copy: PlanStep = {
      ...step,
      id: `${Math.max(...steps.map((one) => Number(one.id))) + 1}`,
      state: "waiting",
      measurementId: null,
      note: null,
    };
    this.record.change(id, { steps: steps.toSpliced(at < 0 ? steps.length : at, 0, copy) });
  }

  /** Puts a run that has not begun before another, or last. */
  move(id: string, stepId: string, before: string | null): void {
    this.record.change(id, { steps: moveStep(this.record.row(id).steps, stepId, before) });
  }

  /** What was under way when the server last died waits for the tester. */
  recover(): void {
    for (const { id, state, steps } of rows.allPlans(this.store)) {
      if (isOver(state) || this.active.has(id)) continue;
      const isFound = ({ state: of, measurementId }: PlanStep) =>
        of === "running" && measurementId !== null && this.desk.isUnderWay(measurementId);
      const back = steps.map((step): PlanStep =>
        step.state === "running" && !isFound(step)
          ? { ...step, state: "waiting", note: "it was cut short by the end of the server" }
          : step,
      );
      const begun = steps.some(({ state: of }) => of !== "waiting");
      const why = begun ? "Nerrit's server ended meanwhile; go on when the bench is ready." : null;
      this.record.change(id, { steps: back, state: { kind: "paused", why } });
      for (const step of back.filter(isFound))
        this.worker.settle(id, step).catch((error: unknown) => log.error(error));
    }
  }

  /** Begins nothing more and ends all waiting; runs that go on are the desk's to end. */
  async shutDown(): Promise<void> {
    const all = [...this.active.values()];
    for (const active of all) {
      active.pausing = true;
      active.wake.abort();
    }
    await Promise.all(all.map(({ over }) => over));
  }
}
