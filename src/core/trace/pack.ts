import type { Sample } from "../run/result";
import { NumberReader, putNumber, zigzag } from "../units/leb128";

/**
 * Samples as bytes: a stretch of a trace, each sample as what it adds to the one before, in numbers of
 * as many bytes as they need (LEB128). Times are kept to a hundredth of a millisecond. A sample ten
 * times a second takes about ten bytes.
 */
const VERSION = 1;
const TICKS = 100; // of a millisecond

/** What the first byte of a sample says of the rest. */
const SAME_PLACE = 1; // step and target as before
const NO_GAP = 2; // begins where the one before of its target ended
const ALL_WRITTEN = 4;
const NONE_WRITTEN = 8;

/**
 * Packs samples, in the order in which they came.
 *
 * @throws RangeError for a number that cannot be kept: one that is negative, or beyond 2^53
 */
export function packSamples(samples: readonly Sample[]): Uint8Array {
  const out: number[] = [VERSION];
  const put = (value: number) => {
    if (!Number.isSafeInteger(value) || value < 0)
      throw new RangeError(`A trace cannot keep the number ${value}.`);
    putNumber(out, out.length, value);
  };
  const ends = new Map<number, number>();
  let place = { step: 0, target: 0 };
  for (const { from, ms, bytes, written, requests, step, target } of samples) {
    const [begin, end] = [from, ms].map((time) => Math.round(time * TICKS)) as [number, number];
    const before = ends.get(target) ?? 0;
    const same = step === place.step && target === place.target;
    out.push(
      (same ? SAME_PLACE : 0) |
        (begin === before ? NO_GAP : 0) |
        (written === bytes ? ALL_WRITTEN : 0) |
        (written === 0 ? NONE_WRITTEN : 0),
    );
    if (!same) [step, target].forEach(put);
    if (begin !== before) put(zigzag(begin - before));
    put(Math.max(0, end - begin));
    put(bytes);
    if (written !== bytes && written !== 0) put(written);
    put(requests);
    ends.set(target, end);
    place = { step, target };
  }
  return Uint8Array.from(out);
}

/** @throws RangeError for bytes that `packSamples` did not write */
export function unpackSamples(packed: Uint8Array): Sample[] {
  if (packed[0] !== VERSION)
    throw new RangeError(`A trace of version ${packed[0]} cannot be read.`);
  const samples: Sample[] = [];
  const ends = new Map<number, number>();
  let place = { step: 0, target: 0 };
  const reader = new NumberReader(packed.subarray(1));
  while (!reader.isAtEnd) {
    const flags = reader.byte();
    if (!(flags & SAME_PLACE)) place = { step: reader.number(), target: reader.number() };
    const before = ends.get(place.target) ?? 0;
    const begin = before + (flags & NO_GAP ? 0 : reader.signed());
    const end = begin + reader.number();
    const bytes = reader.number();
    const written = flags & NONE_WRITTEN ? 0 : flags & ALL_WRITTEN ? bytes : reader.number();
    samples.push({
      from: begin / TICKS,
      ms: end / TICKS,
      bytes,
      written,
      requests: reader.number(),
      ...place,
    });
    ends.set(place.target, end);
  }
  return samples;
}
