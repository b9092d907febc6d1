/**
 * How long a test waits for what must come, milliseconds. Only what never comes takes so long: how fast
 * the machine is, and what else it does, are no matter. NERRIT_PATIENCE_MS is for whoever mends a test.
 */
export const PATIENCE_MS = Number(process.env.NERRIT_PATIENCE_MS ?? 180_000);
