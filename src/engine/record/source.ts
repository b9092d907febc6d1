import type { RecordingEnd, RecordingHead } from "@/core/recording/recording-file";
import type { RequestRows } from "@/core/recording/request";

/** Where a recording's requests come from: a block device, or the calls of programs. */
export interface Source {
  /** When it began, nanoseconds of the monotonic clock. */
  beganNs: number;
  /** What is recorded, as the recording says it. */
  head: Pick<RecordingHead, "device" | "drive" | "deviceBytes" | "points">;
  /** Requests that have come since and are whole. */
  drain(): RequestRows;
  /** What is left at the end. */
  end(): RequestRows;
  /** Names of programs that were not given out before, in the order of their numbers. */
  newPrograms(): string[];
  /** Why nothing more comes; null while it goes on. */
  gone(): string | null;
  /** What it could not see, in words; null for nothing. */
  missing(): string | null;
  /** What the system itself counted meanwhile, bytes; null where it keeps no count. */
  counted(): Promise<RecordingEnd["counted"]>;
  /** Events that the kernel had no room for, so far. */
  lost(): number;
  /** Nothing new is told; what was told can still be drained. */
  stop(): void;
  remove(): void;
}
