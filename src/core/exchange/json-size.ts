/**
 * Objects and arrays that a document may hold: twice as many as the samples of the largest file that is
 * taken in. What holds more needs many times its own size in memory, and minutes.
 */
const MOST_CONTAINERS = 6_000_000;

const [BRACE, BRACKET] = [0x7b, 0x5b];

/** Whether a JSON document holds more objects and arrays than any that is taken in; those in texts count, too. */
export function holdsTooMuch(bytes: Uint8Array, most = MOST_CONTAINERS): boolean {
  let count = 0;
  for (const byte of bytes) if (byte === BRACE || byte === BRACKET) count += 1;
  return count > most;
}
