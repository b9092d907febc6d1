import pino from "pino";

/** The application's log: lines of JSON on standard error. NERRIT_LOG sets the level (warn). */
export const log = pino({ level: process.env.NERRIT_LOG || "warn" }, pino.destination(2));
