/**
 * Bounds of what comes in from outside, each with its reason. What lies within them can be computed with,
 * stored, written out and taken in again without loss.
 */

/** Ten years, milliseconds: longer than any run; a hundredth of a millisecond is still exact in a number. */
export const MOST_MS = 3.2e11;

/** What a counter of 64 bits can say, bytes. */
export const MOST_BYTES = 2 ** 64;

/** The fastest that anything here is, MB/s: memory gives 1e5, and no link that is planned comes near. */
export const MOST_MBPS = 1e6;

/** Requests of one run, or of one second: a thousand million a second for eleven days. */
export const MOST_REQUESTS = 1e15;

/** A time of one request, microseconds: a year. */
export const MOST_US = 3.2e13;

/** From absolute zero to well above what any part of a computer survives, °C. */
export const CELSIUS = { least: -273.15, most: 2000 };

/** Steps of a drill, and targets of a run, that are told apart. */
export const MOST_STEPS = 10_000;
