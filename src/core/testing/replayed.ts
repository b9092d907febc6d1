import type { ReplayResult } from "../run/replay-result";
import type { RecordedWork } from "../run/recorded-work";

/** A recording of 20 s, in which the work waited for 9 s. */
export const RECORDED: RecordedWork = {
  name: "Opening the project",
  sha256: "ab".repeat(32),
  requests: 900,
  ms: 20_000,
  bytesRead: 3e9,
  bytesWritten: 0,
  workingSetBytes: 4096,
};

/** What came of doing it again in so many seconds, of which it waited some. */
export const replayOf = (seconds: number, waited: number): ReplayResult => ({
  recorded: { ms: RECORDED.ms, waitedMs: 9_000 },
  replayed: { ms: seconds * 1e3, waitedMs: waited * 1e3 },
  phases: [],
  recordedRead: null,
  recordedWrite: null,
  flushes: 0,
  leftOut: 0,
  widened: 0,
  folded: false,
});
