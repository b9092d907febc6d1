/**
 * How long a test waits for what must come, milliseconds. Only what never comes takes so long: how fast
 * the machine is, and what else it does, are no matter.
 */
export const PATIENCE_MS = 180_000;
