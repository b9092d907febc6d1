import type { Rig } from "../chain/rig";
import type { Drill } from "../drills/drill";
import { UNSAID } from "../run/stated";
import type { Repeats } from "../stats/repeats";
import type { Observation } from "./measurement";

/** What was measured beside the runs of a study, as an observation of a rig in the same drill. */
export const withoutRun = (rig: Rig, drill: Drill, repeats: Repeats): Observation => ({
  rig,
  drill,
  origin: "measured",
  repeats,
  results: [],
  hostBusy: [],
  measurementIds: [],
  errors: [],
  cautions: [],
  doubtful: false,
  circumstances: { conditions: null, stated: UNSAID },
});
