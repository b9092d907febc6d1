/**
 * The text of a log, whichever way its program wrote it: UTF-8, UTF-16 as terminals of Windows write
 * what is sent into a file, or the one byte a sign of older programs.
 *
 * @param bytes the whole file
 */
export function decodeLog(bytes: Uint8Array): string {
  const form = formOf(bytes);
  if (form !== null) return new TextDecoder(form).decode(bytes);
  try {
    return new TextDecoder("utf-8", { fatal: true }).decode(bytes);
  } catch {
    return new TextDecoder("windows-1252").decode(bytes);
  }
}

/** Signs that are looked at where no mark says how a file was written, bytes. */
const LOOKED_AT = 400;

/** UTF-16, by its mark of the byte order, or by the zero bytes of its Latin letters; null for other forms. */
function formOf(bytes: Uint8Array): "utf-16le" | "utf-16be" | null {
  const [first, second] = bytes;
  if (first === 0xff && second === 0xfe) return "utf-16le";
  if (first === 0xfe && second === 0xff) return "utf-16be";
  const start = bytes.subarray(0, LOOKED_AT);
  const zeros = (from: number) => start.filter((byte, i) => i % 2 === from && byte === 0).length;
  const many = start.length / 4;
  if (zeros(1) > many && zeros(0) === 0) return "utf-16le";
  if (zeros(0) > many && zeros(1) === 0) return "utf-16be";
  return null;
}
