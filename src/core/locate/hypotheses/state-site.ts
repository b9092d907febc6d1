import type { Rig } from "../../chain/rig";
import { HOT_START, OF_DRIVE, type RunState } from "./run-state";
import type { Site } from "./site";

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

/** What ends a state, as an order. */
export const undoing = (rig: Rig, state: RunState): string =>
  WORDS[state].undo(driveOf(rig)?.name ?? "the drive");
