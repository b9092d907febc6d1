import fc from "fast-check";

/**
 * Properties are held to the same cases every time, so that only a change turns a test red.
 * `npm run soak:properties` draws others.
 */
fc.configureGlobal({ seed: Number(process.env.NERRIT_SEED ?? 1) });
