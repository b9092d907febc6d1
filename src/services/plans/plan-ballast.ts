import { fillOf } from "@/core/ballast/ballast";
import type { BallastPlace } from "@/core/ballast/shown";
import { isOver } from "@/core/plan/plan";
import type { Ballasts } from "../ballast/ballasts";
import { log } from "../log";
import { isProblem } from "../problem";
import type { ActivePlan } from "./active-plan";
import type { PlanRecord } from "./plan-record";

/** A level that is met within this share of the drive is left as it is: files of other programs come and go. */
const NEAR = 0.005;

/** Keeps drives of plans at the fill levels that they are measured at, and removes the ballast at the end. */
export class PlanBallast {
  /** Directories that a plan has put ballast into, by its id. */
  private readonly filled = new Map<string, Set<string>>();

  constructor(
    private readonly record: PlanRecord,
    private readonly ballasts: Ballasts,
  ) {}

  /**
   * Fills the drive of a directory to a level.
   *
   * @returns false where the waiting was ended, or the plan cannot go on by itself: its state says why
   */
  async fill(id: string, active: ActivePlan, target: string, level: number): Promise<boolean> {
    const { plan } = this.record.row(id);
    this.filled.set(id, (this.filled.get(id) ?? new Set()).add(target));
    try {
      const place = await this.ballasts.place(target, plan.reserve);
      if (place && isAt(level, place)) return true;
      return await this.change(id, active, target, level);
    } catch (error) {
      if (!isProblem(error)) throw error;
      this.record.set(id, { kind: "paused", why: error.message });
      return false;
    }
  }

  private async change(
    id: string,
    active: ActivePlan,
    target: string,
    level: number,
  ): Promise<boolean> {
    const { plan } = this.record.row(id);
    const tell = (doing: { bytes: number; total: number }) =>
      this.record.set(id, { kind: "filling", level, ...doing });
    if (!tell({ bytes: 0, total: 0 })) return false;
    active.wake = new AbortController();
    const { reserve, besideOwnData } = plan;
    const asked = { target, level, reserve, besideOwnData };
    const { ended, stop } = await this.ballasts.begin(asked, tell);
    // A pause may have come while the writing was begun.
    if (active.wake.signal.aborted) stop();
    active.wake.signal.addEventListener("abort", stop);
    const end = await ended;
    if (active.pausing || isOver(this.record.row(id).state)) return false;
    if (end.kind === "done") return true;
    const why = "reason" in end ? end.reason : "The writing of ballast was stopped.";
    this.record.set(id, { kind: "paused", why });
    return false;
  }

  /** Removes what a plan has put onto drives; of one that is not there now the plan says that it keeps its ballast. */
  async removeAll(id: string): Promise<void> {
    const { plan } = this.record.row(id);
    if (!plan.fillLevels?.length) return;
    const filled = this.filled.get(id) ?? new Set<string>();
    const targets = new Set([...filled, ...plan.rigs.map((r) => r.target)]);
    this.filled.delete(id);
    const left: string[] = [];
    for (const target of targets) {
      try {
        const { ended } = await this.ballasts.begin({ target, level: 0 });
        const end = await ended;
        if (end.kind !== "done") left.push(target);
      } catch (error) {
        if (!isProblem(error)) throw error;
        log.info({ target, why: error.message }, "ballast stays");
        if (filled.has(target)) left.push(target);
      }
    }
    if (left.length === 0) return;
    const { state } = this.record.row(id);
    const words = `The ballast on ${left.join(" and ")} could not be removed. Remove it on Measure, or with nerrit ballast ${left[0]!} --remove.`;
    if (state.kind === "done" || state.kind === "aborted")
      this.record.change(id, { state: { ...state, left: words } });
  }
}

/** Whether a drive is filled to a level already; 0 asks for no ballast. */
function isAt(level: number, { room, held }: BallastPlace): boolean {
  if (level === 0) return held === null;
  return held?.level === level && Math.abs(fillOf(room) - level) < NEAR;
}
