import { crc32, deflateSync } from "node:zlib";
import { describe, expect, it } from "vitest";
import { cleanPhoto, MOST_PHOTO_BYTES } from "./photo";

const text = (words: string) => Buffer.from(words, "latin1");
const chunk = (name: string, data: Buffer) => {
  const body = Buffer.concat([text(name), data]);
  const [length, sum] = [Buffer.alloc(4), Buffer.alloc(4)];
  length.writeUInt32BE(data.length);
  sum.writeUInt32BE((crc32 as (data: Buffer) => number)(body));
  return Buffer.concat([length, body, sum]);
};
const head = (width: number, height: number) => {
  const data = Buffer.alloc(13);
  data.writeUInt32BE(width);
  data.writeUInt32BE(height, 4);
  data.set([8, 2], 8);
  return chunk("IHDR", data);
};
const SIGN = Buffer.from([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a]);
const pixels = chunk("IDAT", deflateSync(Buffer.alloc(3 * (1 + 2 * 3))));
const end = chunk("IEND", Buffer.alloc(0));
const png = (...aside: Buffer[]) => Buffer.concat([SIGN, head(2, 3), ...aside, pixels, end]);

const segment = (marker: number, data: Buffer) => {
  const length = Buffer.alloc(2);
  length.writeUInt16BE(data.length + 2);
  return Buffer.concat([Buffer.from([0xff, marker]), length, data]);
};
const frame = segment(0xc0, Buffer.from([8, 0, 30, 0, 40, 1, 1, 0x11, 0]));
const scan = Buffer.concat([
  segment(0xda, Buffer.from([1, 1, 0, 0, 63, 0])),
  Buffer.from([0x12, 0xff, 0x00, 0x34, 0xff, 0xd0, 0x56]),
]);
const START = Buffer.from([0xff, 0xd8]);
const END = Buffer.from([0xff, 0xd9]);
const jfif = segment(0xe0, text("JFIF\0\x01\x01\0\0\x01\0\x01\0\0"));
const jpeg = (...aside: Buffer[]) => Buffer.concat([START, jfif, ...aside, frame, scan, END]);
/** Exif with an orientation, little end first, and a place behind it. */
const exif = (orientation: number) => {
  const data = Buffer.alloc(14);
  data.writeUInt16LE(1);
  data.writeUInt16LE(0x0112, 2);
  data.writeUInt16LE(3, 4);
  data.writeUInt32LE(1, 6);
  data.writeUInt16LE(orientation, 10);
  return segment(
    0xe1,
    Buffer.concat([text("Exif\0\0II*\0\x08\0\0\0"), data, text("GPS 46.5N 7.9E")]),
  );
};

describe("a picture of the bench", () => {
  it("keeps of PNG what is seen, and nothing else", () => {
    const aside = [
      chunk("tEXt", text("Author\0Somebody")),
      chunk("eXIf", text("GPS 46.5N")),
      chunk("tIME", Buffer.alloc(7)),
    ];
    const cleaned = cleanPhoto(Buffer.concat([png(...aside), text("trailing secret")]));
    expect(cleaned).toMatchObject({ type: "image/png", width: 2, height: 3 });
    expect(Buffer.compare(cleaned.bytes, png())).toBe(0);
  });

  it("keeps of JPEG what is seen, and nothing else", () => {
    const aside = [
      segment(0xe1, text("made by somebody, somewhere")),
      segment(0xfe, text("a comment")),
    ];
    const cleaned = cleanPhoto(Buffer.concat([jpeg(...aside, exif(1)), text("a small copy")]));
    expect(cleaned).toMatchObject({ type: "image/jpeg", width: 40, height: 30 });
    expect(Buffer.compare(cleaned.bytes, jpeg())).toBe(0);
  });

  it("keeps how the camera was held, and not where", () => {
    const { bytes, width, height } = cleanPhoto(jpeg(exif(6)));
    expect(Buffer.from(bytes).includes("GPS")).toBe(false);
    expect([width, height]).toEqual([30, 40]);
    // What is kept reads back the same.
    expect(cleanPhoto(bytes).bytes).toEqual(bytes);
    expect(cleanPhoto(bytes)).toMatchObject({ width: 30, height: 40 });
  });

  it("refuses what is no picture, or not a whole one", () => {
    const refusal = (bytes: Uint8Array) => {
      try {
        cleanPhoto(bytes);
        return "taken";
      } catch (error) {
        return (error as RangeError).message;
      }
    };
    expect(refusal(text("<svg onload=alert(1)>"))).toMatch(/neither/);
    expect(refusal(new Uint8Array(0))).toMatch(/neither/);
    expect(refusal(new Uint8Array(MOST_PHOTO_BYTES + 1))).toMatch(/larger/);
    for (const whole of [png(), jpeg()])
      for (let cut = 9; cut < whole.length - 1; cut++)
        expect(refusal(whole.subarray(0, cut)), `${cut}`).not.toBe("taken");
    expect(refusal(Buffer.concat([SIGN, head(20_000, 3), pixels, end]))).toMatch(/12000|12 000/);
    expect(refusal(Buffer.concat([SIGN, head(0, 3), pixels, end]))).toMatch(/no size/);
  });
});
