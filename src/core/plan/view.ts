import type { Plan, PlanState, PlanStep } from "./plan";
import type { PlanTable } from "./table";

/** A plan as its followers see it. */
export interface PlanView {
  id: string;
  studyId: string;
  plan: Plan;
  steps: PlanStep[];
  state: PlanState;
  /** Its runs as a table, rigs by drills. */
  table: PlanTable;
  /** How the order was chosen. */
  words: string;
  /** What is left takes about so long, hands apart. */
  secondsLeft: number;
}
