import type { Observation as Whole } from "../study/measurement";

/** What locating needs of what was seen of a rig. */
export type Observation = Pick<Whole, "rig" | "drill" | "repeats" | "measurementIds" | "doubtful"> &
  Partial<Pick<Whole, "results" | "hostBusy" | "circumstances" | "errors">>;
