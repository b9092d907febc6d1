import type { Rig } from "@/core/chain/rig";
import { singleChanges } from "@/core/locate/steps/single-changes";
import { handsWords } from "@/core/plan/hands";
import { together } from "@/core/plan/order";
import { isExchanged, placeOf } from "@/core/plan/place";
import { isOver, levelOf, type PlanStep } from "@/core/plan/plan";
import type { Desk } from "../measuring/desk";
import { beginMeasurement } from "../measuring/measure";
import { opinionOf } from "../conclusions/opinion";
import type { ActivePlan } from "./active-plan";
import type { PlanBallast } from "./plan-ballast";
import { passTime, type PlanBench } from "./plan-bench";
import { leaveOutNarrow } from "./leave-out-narrow";
import { findStep, type PlanRecord } from "./plan-record";
import type { look } from "../measuring/preflight";
import { isProblem } from "../problem";
import { openStudy } from "../studies/studies";

/** How often a drive that has to cool is asked for its temperature. */
const ASK_MS = 5000;

/** Works a plan through: one run after another, and waits for hands where parts have to be swapped. */
export class PlanWorker {
  constructor(
    private readonly record: PlanRecord,
    private readonly desk: Desk,
    private readonly bench: PlanBench,
    private readonly ownFolder: string,
    /** Looks over what a run would meet. */
    private readonly lookFirst: typeof look,
    private readonly ballast: PlanBallast,
  ) {}

  /** Works until the plan is over, paused or cannot go on by itself; a plan that is over leaves no ballast. */
  async work(id: string, active: ActivePlan): Promise<void> {
    await this.goThrough(id, active);
    if (isOver(this.record.row(id).state)) await this.ballast.removeAll(id);
  }

  private async goThrough(id: string, active: ActivePlan): Promise<void> {
    const begun = this.record.row(id).steps;
    let first = begun.every(({ state }) => state === "waiting");
    // A run on a host outlives the end of the server, and is found again.
    const found = begun.find(({ state }) => state === "running");
    if (found && !(await this.settle(id, found))) return;
    for (;;) {
      const { plan, steps, state, studyId } = this.record.row(id);
      if (isOver(state)) return;
      if (active.pausing) return void this.record.set(id, { kind: "paused", why: null });
      const step = steps.find((one) => one.state === "waiting");
      if (!step) return void this.record.set(id, { kind: "done" });
      const { rigs } = openStudy(this.record.store, studyId);
      const rig = rigs.find((one) => one.id === step.rigId);
      if (!rig) {
        this.record.setStep(id, step.id, {
          state: "skipped",
          note: "its rig is not in the study any more",
        });
        continue;
      }
      const target = await this.ready(id, active, rig, rigs, step.id);
      if (target === null) continue;
      const level = levelOf(plan, step.drill);
      if (level !== null && !(await this.ballast.fill(id, active, target, level))) {
        if (this.record.row(id).state.kind === "paused") return;
        continue;
      }
      const rest = first ? plan.idleSeconds : plan.coolSeconds;
      if (!(await this.rest(id, active, rest, first ? "before the first run" : "to cool down")))
        continue;
      if (
        !first &&
        plan.coolBelow !== null &&
        !(await this.cool(id, active, target, plan.coolBelow))
      )
        continue;
      first = false;
      const went = await this.measure(id, active, step, rig, target);
      if (!went) return;
      leaveOutNarrow(this.record, id, step);
    }
  }

  /**
   * Waits until a rig is plugged in and is what it is said to be.
   *
   * @returns where it is measured; null where the waiting was ended
   */
  private async ready(
    id: string,
    active: ActivePlan,
    rig: Rig,
    rigs: readonly Rig[],
    stepId: string,
  ): Promise<string | null> {
    const { plan, pluggedRigs } = this.record.row(id);
    const { target } = plan.rigs.find(({ rigId }) => rigId === rig.id)!;
    const inTheWay = rigs.filter(
      (other) => pluggedRigs.includes(other.id) && !together(other, rig),
    );
    const atFirst = await this.bench.drives(target);
    const first = await this.bench.look(rig, target, atFirst);
    // What was measured at the same place, or is the same drive, has to go away before it is this rig.
    const stillThere = inTheWay.some(
      (other) =>
        other.parts.at(-1)?.id === rig.parts.at(-1)?.id ||
        plan.rigs.find(({ rigId }) => rigId === other.id)?.target === target,
    );
    const known = pluggedRigs.includes(rig.id);
    if (known && active.confirmed.has(rig.id)) return first?.path ?? target;
    if (first?.differs.length === 0 && (known || !stillThere)) {
      this.plug(id, rig, rigs);
      return first.path;
    }
    const atOnce = singleChanges(inTheWay, rig, opinionOf(this.record.store));
    const hands = {
      kind: "hands" as const,
      rigId: rig.id,
      words: handsWords(inTheWay, rig),
      ...(atOnce.length > 0 ? { atOnce } : {}),
    };
    active.goOn = false;
    active.wake = new AbortController();
    this.record.set(id, { ...hands, differs: [] });
    let wasGone = !stillThere;
    let asked = false;
    let before: string | null = null;
    for (;;) {
      const drives = await this.bench.next(target, before, active.wake.signal);
      // What is said from here on, while the bench is looked at too, ends the next waiting at once.
      active.wake = new AbortController();
      wasGone ||= isExchanged(atFirst, drives, target);
      if (isOver(this.record.row(id).state) || active.pausing) return null;
      if (findStep(this.record.row(id).steps, stepId).state !== "waiting") return null;
      if (active.goOn && !wasGone && !asked) {
        // What was never taken out is hardly another rig: once more, and it is taken for it.
        asked = true;
        active.goOn = false;
        const differs = [
          `${rig.parts.at(-1)!.name} has not gone away since; go on again if the parts were swapped`,
        ];
        this.record.set(id, { ...hands, differs });
        before = JSON.stringify(drives);
        continue;
      }
      if (active.goOn) {
        const now = placeOf(rig, target, drives);
        active.confirmed.add(rig.id);
        this.plug(id, rig, rigs);
        return now?.path ?? target;
      }
      before = JSON.stringify(drives);
      const found = await this.bench.look(rig, target, drives);
      if (!found) {
        wasGone = true;
        this.record.set(id, { ...hands, differs: [] });
      } else if (found.differs.length > 0 && wasGone) {
        this.record.set(id, { ...hands, differs: found.differs });
      } else if (wasGone) {
        this.plug(id, rig, rigs);
        return found.path;
      }
    }
  }

  /** A rig is put together now, and with it those that it leaves in place. */
  private plug(id: string, rig: Rig, rigs: readonly Rig[]): void {
    const { pluggedRigs } = this.record.row(id);
    const kept = rigs.filter((other) => pluggedRigs.includes(other.id) && together(other, rig));
    this.record.change(id, {
      pluggedRigs: [...new Set([...kept.map((other) => other.id), rig.id])],
    });
  }

  /** @returns false where the waiting was ended before its time */
  private async rest(
    id: string,
    active: ActivePlan,
    seconds: number,
    why: string,
  ): Promise<boolean> {
    if (seconds <= 0) return true;
    const until = new Date(Date.now() + seconds * 1000).toISOString();
    if (!this.record.set(id, { kind: "resting", until, why })) return false;
    active.goOn = false;
    active.wake = new AbortController();
    await passTime(seconds * 1000, active.wake.signal);
    return !active.pausing && !isOver(this.record.row(id).state);
  }

  private async cool(
    id: string,
    active: ActivePlan,
    target: string,
    below: number,
  ): Promise<boolean> {
    active.goOn = false;
    for (;;) {
      const celsius = await this.bench.temperature(target);
      if (celsius === null || celsius < below || active.goOn) return true;
      if (!this.record.set(id, { kind: "cooling", celsius, below })) return false;
      active.wake = new AbortController();
      await passTime(ASK_MS, active.wake.signal);
      if (active.pausing || isOver(this.record.row(id).state)) return false;
    }
  }

  /** Does one run. @returns false where the plan cannot go on by itself */
  private async measure(
    id: string,
    active: ActivePlan,
    step: PlanStep,
    rig: Rig,
    target: string,
  ): Promise<boolean> {
    const { plan } = this.record.row(id);
    const { name, ...drill } = plan.drills[step.drill]!;
    let measurementId: string;
    this.record.set(id, { kind: "looking" });
    const asked = { target, reserve: plan.reserve, io: "direct" as const };
    const exact = plan.drills[step.drill]!;
    const { ownFolder, bench } = this;
    const where = { ownFolder, machines: bench.machines };
    const { findings } = await this.lookFirst(this.record.store, rig, exact, asked, where);
    const stop = findings.find(({ level }) => level === "stop");
    if (isOver(this.record.row(id).state)) return false;
    // Meanwhile the tester may have paused the plan, or left this run out.
    if (active.pausing || findStep(this.record.row(id).steps, step.id).state !== "waiting")
      return true;
    if (stop && !active.confirmed.has(rig.id)) {
      this.record.set(id, { kind: "paused", why: stop.text });
      return false;
    }
    const beware = findings.filter(({ level }) => level === "beware").map(({ text }) => text);
    try {
      measurementId = await beginMeasurement(
        { store: this.record.store, desk: this.desk, machines: bench.machines },
        rig.id,
        {
          ...drill,
          drill: name,
          target,
          repeats: 1,
          reserve: plan.reserve,
          besideOwnData: plan.besideOwnData,
          stated: plan.stated,
        },
        step.warmUp,
      );
    } catch (error) {
      const why = isProblem(error) ? error.message : String(error);
      // What is in the way for a moment is none of the run's own.
      if (!(isProblem(error) && error.code === "occupied"))
        this.record.setStep(id, step.id, { state: "failed", note: why });
      this.record.set(id, { kind: "paused", why });
      return false;
    }
    this.record.setStep(id, step.id, {
      state: "running",
      measurementId,
      note: beware.join(" ") || null,
    });
    if (!this.record.set(id, { kind: "running", stepId: step.id, measurementId })) {
      this.desk.stop(measurementId);
    }
    return this.settle(id, { ...step, measurementId });
  }

  /**
   * Waits for the end of a run and notes how it ended.
   *
   * @returns false where the plan cannot go on by itself
   */
  async settle(id: string, step: PlanStep): Promise<boolean> {
    const { status, reason } = await this.desk.ended(step.measurementId!);
    if (findStep(this.record.row(id).steps, step.id).state === "skipped") return true;
    if (status === "done") {
      this.record.setStep(id, step.id, { state: "done" });
      return true;
    }
    // A run that the end of the server cut short is done again; one that failed or was stopped waits.
    const state = status === "interrupted" ? "waiting" : "failed";
    this.record.setStep(id, step.id, { state, note: reason ?? "it was stopped" });
    this.record.set(id, { kind: "paused", why: reason ?? "The run was stopped." });
    return false;
  }
}
