/**
 * States that a run may find its rig in, each of which may hold it back: the drive hot, nearly full, or its
 * write cache switched off; a processor core kept busy by other programs; a core of the machine that serves
 * a share without time left; the end of a copy that lies outside the rig. They are seen only where the system or the run told them.
 */
export const RUN_STATES = [
  "temperature",
  "fill",
  "writeCache",
  "processor",
  "farProcessor",
  "copySource",
  "copyTarget",
] as const;
export type RunState = (typeof RUN_STATES)[number];

/** Whether a kind of site or change is a state that runs found a rig in. */
export const isState = (kind: string): kind is RunState =>
  (RUN_STATES as readonly string[]).includes(kind);

/** Those that are the drive's own: another drive is in none of them. */
export const OF_DRIVE: readonly RunState[] = ["temperature", "fill", "writeCache"];

/** From here on a drive may slow itself down as soon as it works, °C; see reading/cause. */
export const HOT_START = 60;
