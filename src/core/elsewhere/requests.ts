/** The requests that a head or a cell names: bytes of one, and how many in flight; null where it says nothing. */
export interface NamedRequests {
  block: number | null;
  depth: number | null;
  /** What is left of the text without them. */
  rest: string;
}

const SCALE: Record<string, number> = { "": 1, k: 2 ** 10, m: 2 ** 20 };

/** "4K", "128 KiB", "1M", "512 B"; not the rate of "100 MB/s", the "85k" of "85k IOPS", nor a number alone. */
const BLOCK =
  /(\d+)\s*(?:([km])(?:i?b)?|b(?:ytes?)?)(?![a-z0-9])(?!\s*(?:\/|per\b|ps\b|iops|io\/s))/i;

/** "Q32", "QD 8", "queue depth 8", "depth=8", "8 in flight"; where threads are named, each keeps so many. */
const DEPTH =
  /(?<![a-z])(?:io)?(?:q(?:d|ueue(?:\s*depth)?)?|depth)[\s=:]*(\d+)(?:\s*t[\s=:]*(\d+))?(?!\d)|(\d+)\s*(?:in flight|at a time|outstanding)/i;

/**
 * Reads the size of requests, and how many were in flight, out of a head as people write it. Sizes of
 * requests are powers of two, so that "4K" and "4 KB" are 4 KiB.
 */
export function requestsIn(text: string): NamedRequests {
  const deep = DEPTH.exec(text);
  const one = /\b(one at a time|single request)\b/i.exec(text);
  const shallow = text.replace((deep ?? one)?.[0] ?? "", " ");
  const size = BLOCK.exec(shallow);
  return {
    block: size ? Number(size[1]) * SCALE[(size[2] ?? "").toLowerCase()]! : null,
    depth: deep ? Number(deep[1] ?? deep[3]) * Number(deep[2] ?? 1) : one ? 1 : null,
    rest: shallow.replace(size?.[0] ?? "", " "),
  };
}
