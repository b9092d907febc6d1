import { z } from "zod";

/** Bytes moved between the previous sample (or the start) and `ms` after the start. */
export const Sample = z.object({ ms: z.number().nonnegative(), bytes: z.number().nonnegative() });
export type Sample = z.infer<typeof Sample>;

/** Time of single requests in microseconds. */
export const Latency = z.object({
  p50: z.number(),
  p95: z.number(),
  p99: z.number(),
  p999: z.number(),
  max: z.number(),
});
export type Latency = z.infer<typeof Latency>;

/** What one execution of a drill gave. */
export const RunResult = z.object({
  /** The headline, MB/s: payload over the counted time, its ends faded (core/trace/rates.ts). */
  meanMBps: z.number().nonnegative(),
  bytes: z.number().nonnegative(),
  /** Counted time in milliseconds. */
  ms: z.number().nonnegative(),
  requests: z.number().int().nonnegative(),
  latencyUs: Latency,
  /** What the kernel counted for the device in the same time; null where it keeps no count. */
  deviceBytes: z.number().nonnegative().nullable(),
  /** Processor time the measuring process used per request, microseconds. */
  processorUsPerRequest: z.number().nonnegative(),
  /** The busiest core's share of time not idle, 0 to 1; null where the system does not say. */
  busiestCore: z.number().min(0).max(1).nullable(),
});
export type RunResult = z.infer<typeof RunResult>;

/** The circumstances of a run, as read from the system. A null was not to be had. */
export const Conditions = z.object({
  startedAt: z.string(),
  nerrit: z.string(),
  host: z.string(),
  kernel: z.string(),
  processor: z.string(),
  cores: z.number().int(),
  loadAtStart: z.number(),
  target: z.string(),
  targetKind: z.enum(["directory", "device"]),
  fileSystem: z.string().nullable(),
  mountOptions: z.string().nullable(),
  device: z.string().nullable(),
  deviceBytes: z.number().nullable(),
  freeBytes: z.number().nullable(),
  scheduler: z.string().nullable(),
  rotational: z.boolean().nullable(),
  writeCache: z.string().nullable(),
  requestLimitBytes: z.number().nullable(),
  /** Past the page cache (direct) or through it (buffered). */
  io: z.enum(["direct", "buffered"]),
  /** How requests are issued: by the small native lane, or by the runtime's own file calls. */
  lane: z.enum(["native", "portable"]),
  simulated: z.boolean(),
});
export type Conditions = z.infer<typeof Conditions>;
