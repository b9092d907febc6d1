import type { Rig } from "../../chain/rig";
import type { Change } from "./change";
import { minutesFor, USUAL_OPINION, type Opinion } from "../hypotheses/opinion";
import { OF_DRIVE, type RunState } from "../hypotheses/run-state";
import { undoing } from "../hypotheses/state-site";

/**
 * What stays as it is when something else of a rig is changed and its drive is not: all of it, since
 * a drive takes longer to cool down than a cable to be exchanged. Of another drive the state of the
 * first says nothing; the host and the other end of a copy stay.
 */
export const lasting = (states: readonly RunState[], before: Rig, after: Rig): RunState[] =>
  states.filter(
    (state) => !OF_DRIVE.includes(state) || before.parts.at(-1)?.id === after.parts.at(-1)?.id,
  );

/** The same rig once more, without one of the states that it was measured in. */
export const relieved = (
  rig: Rig,
  states: readonly RunState[],
  state: RunState,
  opinion: Opinion = USUAL_OPINION,
): Change => ({
  kind: state,
  base: rig,
  rig,
  states: states.filter((one) => one !== state),
  text: undoing(rig, state),
  minutes: minutesFor(opinion, state),
});
