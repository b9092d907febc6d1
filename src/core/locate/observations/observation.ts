import type { Rig } from "../../chain/rig";
import type { Drill } from "../../drills/drill";
import type { RunState } from "../hypotheses/run-state";
import type { Observation as Whole } from "../../study/measurement";

/** What locating needs of what was seen of a rig. */
export type Observation = Pick<Whole, "rig" | "drill" | "repeats" | "measurementIds" | "doubtful"> &
  Partial<Pick<Whole, "results" | "hostBusy" | "circumstances" | "errors">>;

/** What was seen of one set-up in one drill: evidence on every part in it. */
export interface SetUpObservation {
  rig: Rig;
  drill: Drill;
  /** Rates of the repeats, MB/s. */
  rates: readonly number[];
  measurementIds: readonly string[];
  /** States of its drive as its runs began, which may hold it back. */
  states?: readonly RunState[];
}
