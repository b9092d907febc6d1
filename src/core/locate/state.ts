import type { Rig } from "../chain/rig";
import type { Change } from "./change";
import { lastingStates } from "../study/drive-state";
import { minutesFor, USUAL_OPINION, type Opinion } from "./opinion";
import type { Observation } from "./seen";
import type { Site } from "./site";

/**
 * States of its drive that a run may begin in, each of which may hold it back: hot, nearly full, its
 * write cache switched off. They are seen only where the system told them.
 */
export const DRIVE_STATES = ["temperature", "fill", "writeCache"] as const;
export type DriveState = (typeof DRIVE_STATES)[number];

/** From here on a drive may slow itself down as soon as it works, °C; see reading/cause. */
export const HOT_START = 60;
/** The states that one of an observation's repeats began in. @param i which of them */
export function statesOf(
  { drill, results = [], circumstances }: Observation,
  i: number,
): readonly DriveState[] {
  const hot = (results[i]?.startCelsius ?? 0) >= HOT_START;
  const writes = drill.direction === "write";
  return [
    ...(hot ? (["temperature"] as const) : []),
    ...(writes ? lastingStates(circumstances?.conditions) : []),
  ];
}

/**
 * What stays as it is when something else of a rig is changed and its drive is not: all of it, since
 * a drive takes longer to cool down than a cable to be exchanged.
 */
export const lasting = (states: readonly DriveState[], before: Rig, after: Rig): DriveState[] =>
  before.parts.at(-1)?.id === after.parts.at(-1)?.id ? [...states] : [];

interface StateWords {
  name(drive: string): string;
  told(drive: string): string;
  undo(drive: string): string;
}
const WORDS: Record<DriveState, StateWords> = {
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
};

const driveOf = ({ parts }: Rig) => parts.at(-1);

/** That a state of its drive holds a rig back. */
export const stateSite = (rig: Rig, state: DriveState): Site => ({
  key: `${state} ${driveOf(rig)?.id}`,
  at: { condition: state },
  kind: state,
  parts: [],
  name: WORDS[state].name(driveOf(rig)?.name ?? "the drive"),
});

/** What the system told of the state of a rig's drive, in a sentence. */
export const tellState = (rig: Rig, state: DriveState): string =>
  WORDS[state].told(driveOf(rig)?.name ?? "The drive");

/** Whether a kind of site or change is a state of the drive. */
export const isState = (kind: string): kind is DriveState =>
  (DRIVE_STATES as readonly string[]).includes(kind);

/** The same rig once more, without one of the states that it was measured in. */
export const relieved = (
  rig: Rig,
  states: readonly DriveState[],
  state: DriveState,
  opinion: Opinion = USUAL_OPINION,
): Change => ({
  ...{ kind: state, base: rig, rig, states: states.filter((one) => one !== state) },
  text: WORDS[state].undo(driveOf(rig)?.name ?? "the drive"),
  minutes: minutesFor(opinion, state),
});
