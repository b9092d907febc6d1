import type { Rig } from "../chain/rig";
import type { Change } from "./change";
import { lastingStates } from "../study/drive-state";
import { minutesFor, USUAL_OPINION, type Opinion } from "./opinion";
import { isCoreFull } from "../run/step";
import { slowSideOf } from "./copy-sides";
import type { Observation } from "./observation";
import type { RunState } from "./run-state";
import type { Site } from "./site";

/** From here on a drive may slow itself down as soon as it works, °C; see reading/cause. */
export const HOT_START = 60;
/** The states that one of an observation's repeats began in. @param i which of them */
export function statesOf(
  { drill, rig, results = [], hostBusy = [], circumstances }: Observation,
  i: number,
): readonly RunState[] {
  const result = results[i];
  const hot = (result?.startCelsius ?? 0) >= HOT_START;
  const writes = drill.direction === "write";
  const slow = result && rig.other.length === 0 ? slowSideOf([result]) : null;
  const outside = slow && slow.side === (writes ? "from" : "to");
  return [
    ...(hot ? (["temperature"] as const) : []),
    ...(writes ? lastingStates(circumstances?.conditions) : []),
    ...(result && isCoreFull(result) && hostBusy[i] ? (["processor"] as const) : []),
    ...(outside ? ([writes ? "copySource" : "copyTarget"] as const) : []),
  ];
}

/**
 * What stays as it is when something else of a rig is changed and its drive is not: all of it, since
 * a drive takes longer to cool down than a cable to be exchanged. Of another drive the state of the
 * first says nothing; the host and the other end of a copy stay.
 */
export const lasting = (states: readonly RunState[], before: Rig, after: Rig): RunState[] =>
  states.filter(
    (state) => !OF_DRIVE.includes(state) || before.parts.at(-1)?.id === after.parts.at(-1)?.id,
  );

const OF_DRIVE: readonly RunState[] = ["temperature", "fill", "writeCache"];

interface StateWords {
  name(drive: string): string;
  told(drive: string): string;
  undo(drive: string): string;
}
const WORDS: Record<RunState, StateWords> = {
  temperature: {
    name: (drive) => `the heat of ${drive}`,
    told: (drive) => `${drive} was at ${HOT_START} °C or more as its runs began.`,
    undo: (drive) => `let ${drive} cool down and measure it again`,
  },
  fill: {
    name: (drive) => `the little room left on ${drive}`,
    told: (drive) => `${drive} was nine tenths full or more as its runs began.`,
    undo: (drive) => `empty ${drive} and measure it again`,
  },
  writeCache: {
    name: (drive) => `the switched-off write cache of ${drive}`,
    told: (drive) => `The system had the write cache of ${drive} off.`,
    undo: (drive) => `switch the write cache of ${drive} on and measure it again`,
  },
  processor: {
    name: () => "the processor, kept busy by other programs",
    told: () =>
      "Other programs kept the processor busy before the runs, and a core was fully busy during them.",
    undo: () => "end the other programs on this computer and repeat the run",
  },
  copySource: {
    name: () => "the source of the copy",
    told: () => "The copy waited for its source, which lies outside this rig.",
    undo: () => "copy from a faster source and measure it again",
  },
  copyTarget: {
    name: () => "the target of the copy",
    told: () => "The copy waited for its target, which lies outside this rig.",
    undo: () => "copy to a faster target and measure it again",
  },
};

const driveOf = ({ parts }: Rig) => parts.at(-1);

/** That a state holds a rig back: the drive's own for that drive alone, the others for any rig. */
export const stateSite = (rig: Rig, state: RunState): Site => ({
  key: OF_DRIVE.includes(state) ? `${state} ${driveOf(rig)?.id}` : `${state} ${rig.host}`,
  at: { condition: state },
  kind: state,
  parts: [],
  name: WORDS[state].name(driveOf(rig)?.name ?? "the drive"),
});

/** What was told of a state that a rig was measured in, in a sentence. */
export const tellState = (rig: Rig, state: RunState): string =>
  WORDS[state].told(driveOf(rig)?.name ?? "The drive");

/** The same rig once more, without one of the states that it was measured in. */
export const relieved = (
  rig: Rig,
  states: readonly RunState[],
  state: RunState,
  opinion: Opinion = USUAL_OPINION,
): Change => ({
  ...{ kind: state, base: rig, rig, states: states.filter((one) => one !== state) },
  text: WORDS[state].undo(driveOf(rig)?.name ?? "the drive"),
  minutes: minutesFor(opinion, state),
});
