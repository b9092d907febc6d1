import type { Rig } from "../../chain/rig";
import { capital } from "../../chain/wording";
import { HOT_START, OF_DRIVE, type RunState } from "./run-state";
import type { Site } from "./site";

/** What is said of a state, by the name of the drive, or of the far host for what is that host's. */
interface StateWords {
  name(of: string): string;
  told(of: string): string;
  undo(of: string): string;
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
  farProcessor: {
    name: (host) => `the processor of ${host}, the far host`,
    told: (host) => `A core of ${host}, which serves the share, had no time left during the runs.`,
    undo: (host) =>
      `take other work off ${host}, or serve the share from a faster machine, and measure it again`,
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

/** What a state of a rig is said of. */
const subjectOf = ({ parts, farHost }: Rig, state: RunState): string =>
  state === "farProcessor" ? farHost || "the machine" : (parts.at(-1)?.name ?? "the drive");

/** That a state holds a rig back: the drive's own for that drive alone, a host's for every rig on it. */
export const stateSite = (rig: Rig, state: RunState): Site => ({
  key: `${state} ${OF_DRIVE.includes(state) ? rig.parts.at(-1)?.id : state === "farProcessor" ? rig.farHost : rig.host}`,
  at: { condition: state },
  kind: state,
  parts: [],
  name: WORDS[state].name(subjectOf(rig, state)),
});

/** What was told of a state that a rig was measured in, in a sentence. */
export const tellState = (rig: Rig, state: RunState): string =>
  capital(WORDS[state].told(subjectOf(rig, state)));

/** What ends a state, as an order. */
export const undoing = (rig: Rig, state: RunState): string =>
  WORDS[state].undo(subjectOf(rig, state));
