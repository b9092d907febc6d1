/** A picture of the bench with nothing in it but what is seen. */
export interface Photo {
  type: "image/png" | "image/jpeg";
  bytes: Uint8Array;
  /** Pixels, as it is to be shown. */
  width: number;
  height: number;
}

/** A picture as it stands in a file: its bytes as Base64. */
export interface PhotoData extends Omit<Photo, "bytes"> {
  data: string;
}

/** The most that a picture may hold, bytes, and be wide or high, pixels. */
export const MOST_PHOTO_BYTES = 4 * 2 ** 20;
const MOST_PIXELS = 12_000;

/**
 * Takes everything out of a picture that does not change what is seen: place and time, names of
 * cameras and persons, small copies, comments, and whatever follows its end.
 *
 * PNG: ISO/IEC 15948, 5 (chunks); JPEG: ITU-T T.81, B.1 (markers), Exif 2.3 4.6.4 (orientation).
 *
 * @throws RangeError that says why it is no such picture
 */
export function cleanPhoto(bytes: Uint8Array): Photo {
  if (bytes.length > MOST_PHOTO_BYTES) throw new RangeError("is larger than 4 MiB");
  const photo = startsWith(bytes, PNG)
    ? cleanPng(bytes)
    : startsWith(bytes, [0xff, 0xd8, 0xff])
      ? cleanJpeg(bytes)
      : null;
  if (!photo) throw new RangeError("is neither PNG nor JPEG");
  const { width, height } = photo;
  if (width < 1 || height < 1) throw new RangeError("has no size");
  if (width > MOST_PIXELS || height > MOST_PIXELS)
    throw new RangeError(`is larger than ${MOST_PIXELS} pixels`);
  return photo;
}

const PNG = [0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a];
const startsWith = (bytes: Uint8Array, start: readonly number[]) =>
  start.every((byte, i) => bytes[i] === byte);
const CUT = "is not whole";

/** Chunks that say how the picture looks; all others say something else. */
const SEEN = new Set([
  "IHDR",
  "PLTE",
  "IDAT",
  "IEND",
  "tRNS",
  "gAMA",
  "cHRM",
  "sRGB",
  "iCCP",
  "sBIT",
]);

function cleanPng(bytes: Uint8Array): Photo {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const kept: Uint8Array[] = [bytes.subarray(0, PNG.length)];
  let [width, height] = [0, 0];
  for (let at = PNG.length; ;) {
    if (at + 12 > bytes.length) throw new RangeError(CUT);
    const length = view.getUint32(at);
    const end = at + 12 + length;
    if (end > bytes.length) throw new RangeError(CUT);
    const name = String.fromCharCode(...bytes.subarray(at + 4, at + 8));
    if (kept.length === 1) {
      if (name !== "IHDR" || length !== 13) throw new RangeError("does not begin as PNG does");
      [width, height] = [view.getUint32(at + 8), view.getUint32(at + 12)];
    }
    if (SEEN.has(name)) kept.push(bytes.subarray(at, end));
    if (name === "IEND") break;
    at = end;
  }
  return { type: "image/png", bytes: joined(kept), width, height };
}

/** Markers without a length: restarts, and the picture's beginning. */
const BARE = (marker: number) => (marker >= 0xd0 && marker <= 0xd8) || marker === 0x01;
/** Frames: they say how large the picture is. */
const isFrame = (marker: number) =>
  marker >= 0xc0 && marker <= 0xcf && ![0xc4, 0xc8, 0xcc].includes(marker);
/** What programs write beside the picture; the first says nothing but how dense it is, one how its colours are coded. */
const isAside = (marker: number) =>
  (marker >= 0xe1 && marker <= 0xef && marker !== 0xee) || marker === 0xfe;
const [SCAN, END, EXIF] = [0xda, 0xd9, 0xe1];

function cleanJpeg(bytes: Uint8Array): Photo {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const kept: Uint8Array[] = [bytes.subarray(0, 2)];
  let [width, height, turned] = [0, 0, 1];
  for (let at = 2; ;) {
    if (at + 2 > bytes.length) throw new RangeError(CUT);
    if (bytes[at] !== 0xff) throw new RangeError("is damaged");
    const marker = bytes[at + 1]!;
    if (marker === 0xff) {
      at += 1; // Fill before a marker.
      continue;
    }
    if (marker === END) {
      kept.push(bytes.subarray(at, at + 2));
      break;
    }
    if (BARE(marker)) {
      kept.push(bytes.subarray(at, at + 2));
      at += 2;
      continue;
    }
    if (at + 4 > bytes.length) throw new RangeError(CUT);
    let end = at + 2 + view.getUint16(at + 2);
    if (end > bytes.length || end < at + 4) throw new RangeError(CUT);
    if (isFrame(marker) && end >= at + 9)
      [height, width] = [view.getUint16(at + 5), view.getUint16(at + 7)];
    if (marker === EXIF) turned = orientationIn(bytes.subarray(at + 4, end)) ?? turned;
    if (marker === SCAN) end = endOfScan(bytes, end);
    if (!isAside(marker)) kept.push(bytes.subarray(at, end));
    at = end;
  }
  if (turned > 1) kept.splice(1, 0, orientation(turned));
  return {
    type: "image/jpeg",
    bytes: joined(kept),
    ...(turned > 4 ? { width: height, height: width } : { width, height }),
  };
}

/** Where the coded picture ends: at the next marker that is neither a stuffed byte nor a restart. */
function endOfScan(bytes: Uint8Array, from: number): number {
  for (let at = from; at + 1 < bytes.length; at++) {
    const next = bytes[at + 1]!;
    if (bytes[at] === 0xff && next !== 0x00 && !(next >= 0xd0 && next <= 0xd7)) return at;
  }
  throw new RangeError(CUT);
}

const HEAD = [0x45, 0x78, 0x69, 0x66, 0, 0]; // "Exif"
const ORIENTATION = 0x0112;

/** How the camera was held, 1 to 8; null where that is not said. */
function orientationIn(segment: Uint8Array): number | null {
  if (!startsWith(segment, HEAD) || segment.length < 14) return null;
  const view = new DataView(segment.buffer, segment.byteOffset + 6, segment.byteLength - 6);
  const little = view.getUint16(0) === 0x4949;
  const first = view.getUint32(4, little);
  if (first + 2 > view.byteLength) return null;
  const count = view.getUint16(first, little);
  for (let i = 0; i < count; i++) {
    const entry = first + 2 + 12 * i;
    if (entry + 12 > view.byteLength) return null;
    if (view.getUint16(entry, little) !== ORIENTATION) continue;
    const value = view.getUint16(entry + 8, little);
    return value >= 1 && value <= 8 ? value : null;
  }
  return null;
}

/** A segment that says how the camera was held, and nothing else. */
const orientation = (value: number): Uint8Array =>
  Uint8Array.from([
    0xff,
    EXIF,
    0,
    34,
    ...HEAD,
    0x4d,
    0x4d,
    0,
    42,
    0,
    0,
    0,
    8, // Big end first; the list of entries is at 8.
    0,
    1,
    0x01,
    0x12,
    0,
    3,
    0,
    0,
    0,
    1,
    0,
    value,
    0,
    0,
    0,
    0,
    0,
    0,
  ]);

function joined(parts: readonly Uint8Array[]): Uint8Array {
  const whole = new Uint8Array(parts.reduce((sum, { length }) => sum + length, 0));
  let at = 0;
  for (const part of parts) {
    whole.set(part, at);
    at += part.length;
  }
  return whole;
}
