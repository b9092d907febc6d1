import type { RecordedWork } from "../run/recorded-work";
import type { Recording } from "../recording/recording-file";
import { Places } from "./places";

/** The longest request that is done again: as much as a kernel takes at once, and then some. */
export const LONGEST = 64 * 2 ** 20;

/**
 * A recording in brief.
 *
 * @param name what it is called
 * @param sha256 of its file
 * @throws RangeError where it holds nothing that can be done again
 */
export function workOf(
  { requests, end }: Pick<Recording, "requests" | "end">,
  name: string,
  sha256: string,
): RecordedWork {
  const bytes = { read: 0, write: 0 };
  for (const { kind, bytes: length } of requests) {
    if (kind !== "read" && kind !== "write") continue;
    if (length > LONGEST)
      throw new RangeError(`a request of ${length} bytes is longer than any system sends`);
    bytes[kind] += length;
  }
  if (bytes.read + bytes.write === 0)
    throw new RangeError("nothing was read or written in it, so there is nothing to do again");
  return {
    name: name.slice(0, 200),
    sha256,
    requests: requests.length,
    ms: end.ms,
    bytesRead: bytes.read,
    bytesWritten: bytes.write,
    workingSetBytes: new Places(requests).bytes,
  };
}
