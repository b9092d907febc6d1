import fc from "fast-check";

/**
 * Properties are held to the same cases every time, so that only a change turns a test red.
 * `npm run soak:properties` draws others, and more of them.
 */
const soak = process.env.NERRIT_SEED;
fc.configureGlobal({ seed: Number(soak ?? 1), numRuns: soak === undefined ? 40 : 100 });
