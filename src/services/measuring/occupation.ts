import { allPlans } from "@/store/plans";
import { unfinishedMeasurements } from "@/store/measurements";
import type { Store } from "@/store/store";
import { Problem } from "../problem";

/** Plans in these states measure nothing before a person has said so. */
const AT_REST = new Set(["paused", "hands", "done", "aborted"]);

/**
 * What is measured of the bench itself: what a machine can drive, what a network carries. One at a time, beside no
 * run and no plan, and no run begins meanwhile: each would take from the other.
 */
export class Occupation {
  private words: string | null = null;

  constructor(private readonly store: Store) {}

  /** @throws Problem that says what of the bench is being measured */
  assertFree(): void {
    if (this.words) throw new Problem(409, this.words, [], "occupied");
  }

  /** Whether nothing at all is measured. */
  get isFree(): boolean {
    return this.words === null && !this.meets();
  }

  /** What of runs and plans goes on; null for nothing. */
  private meets(): string | null {
    if (unfinishedMeasurements(this.store).length > 0)
      return "A run goes on, and this would take from it. Wait for its end.";
    if (allPlans(this.store).some(({ state }) => !AT_REST.has(state.kind)))
      return "A plan goes on, and this would take from its runs. Pause the plan.";
    return null;
  }

  /**
   * Begins.
   *
   * @param words what goes on, and what to do, for whoever comes second
   * @returns ends it
   * @throws Problem that says what goes on already
   */
  begin(words: string): () => void {
    this.assertFree();
    const met = this.meets();
    if (met) throw new Problem(409, met);
    this.words = words;
    return () => (this.words = null);
  }
}
