/** Time between two samples, milliseconds. */
export const SAMPLE_MS = 100;

/**
 * When the next sample is due: on the grid of tenths of a second, but never less than half a tenth
 * after the last one, which a busy machine may have delayed, nor so near to the end.
 *
 * @returns milliseconds on the clock of the arguments
 */
export function nextSample(last: number, start: number, end: number): number {
  const due = start + (Math.round((last - start) / SAMPLE_MS) + 1) * SAMPLE_MS;
  return end - due < SAMPLE_MS / 2 ? end : due;
}
