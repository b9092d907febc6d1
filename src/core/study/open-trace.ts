import type { PhotoRef } from "../chain/photo-ref";
import type { FarLoad } from "../run/far-host";
import type { Reading, StepResult } from "../run/result";
import type { Correction } from "../run/mark";
import type { TraceReading } from "../reading/read";
import type { Origin } from "./measurement";
import type { Place } from "../reading/reduce";

/** What a picture of one run's trace needs. */
export interface OpenTrace {
  runId: string;
  measurementId: string;
  studyId: string;
  rigId: string;
  rigName: string;
  repeat: number;
  drill: string;
  summary: string;
  direction: string;
  origin: Origin;
  createdAt: string;
  /** Whether other programs did this work: it may be demanded of every rig. */
  ofOthers: boolean;
  samples: number;
  startMs: number;
  endMs: number;
  /** The whole of it, in few places. */
  places: Place[];
  readings: Reading[];
  /** Events of this run; null where the steps of its drill change the rate. */
  reading: TraceReading | null;
  corrections: Correction[];
  leftOut: string | null;
  /** Pictures that were taken of it. */
  photos: PhotoRef[];
  ceiling: { mbps: number; name: string } | null;
  /** The busiest core's share of the time, 0 to 1; null where nobody looked. */
  busiestCore: number | null;
  /** What the machine did that served a share; null where nobody looked. */
  farHost: FarLoad | null;
  /** Bytes of one request, where all are alike and small enough for their number to matter. */
  smallBlock: number | null;
  /** Its step with the most requests, where their times were kept. */
  timed: StepResult | null;
}
