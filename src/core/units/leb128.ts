/** Whole numbers in as many bytes as they need, seven bits in each, the lowest first (LEB128). */

/**
 * Puts a number behind what is there.
 *
 * @param out long enough
 * @param value a whole number from 0 to 2^53
 * @returns where the next one goes
 */
export function putNumber(out: Uint8Array | number[], at: number, value: number): number {
  let [left, to] = [value, at];
  // Beyond 31 bits, where a shift would lose what is above.
  while (left > 0x7fffffff) {
    out[to++] = (left % 0x80) | 0x80;
    left = Math.floor(left / 0x80);
  }
  while (left >= 0x80) {
    out[to++] = (left & 0x7f) | 0x80;
    left >>>= 7;
  }
  out[to++] = left;
  return to;
}

/** Takes numbers and single bytes off, one after another. */
export class NumberReader {
  private at = 0;
  constructor(private readonly bytes: Uint8Array) {}

  get isAtEnd(): boolean {
    return this.at >= this.bytes.length;
  }

  /** @throws RangeError where nothing is left */
  byte(): number {
    const byte = this.bytes[this.at++];
    if (byte === undefined) throw new RangeError("bytes break off in the middle");
    return byte;
  }

  /** @throws RangeError where it breaks off, or is beyond 2^53 */
  number(): number {
    let [value, scale] = [0, 1];
    for (;;) {
      const byte = this.byte();
      value += (byte & 0x7f) * scale;
      if (value > Number.MAX_SAFE_INTEGER) throw new RangeError("bytes hold a number beyond 2^53");
      if (byte < 0x80) return value;
      scale *= 0x80;
    }
  }

  /** Of either sign. */
  signed(): number {
    const value = this.number();
    return value % 2 === 1 ? -(value + 1) / 2 : value / 2;
  }
}

/** Small numbers of either sign as small numbers: 0, -1, 1, -2 as 0, 1, 2, 3. */
export const zigzag = (value: number): number => (value < 0 ? -2 * value - 1 : 2 * value);
