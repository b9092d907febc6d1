import * as z from "zod";

/**
 * What the simulated bench takes parts for, beyond what the shelf says of them. All of it may be left
 * out; what stands for it then is listed as assumed (`driveOf`).
 */

const rate = z.number().positive().max(1_000_000);
const us = z.number().nonnegative().max(60e6);
const share = z.number().min(0).max(1);
const bytes = z.number().positive().max(1e18);
const celsius = z.number().min(-60).max(200);
const eachWay = <T extends z.ZodType>(value: T) =>
  z.object({ read: value.optional(), write: value.optional() });

/** Warms while data passes, and slows down above a limit: a mass behind one thermal resistance. */
export const Heat = z.object({
  /** How much warmer than the room it gets, running at its full rate for ever. */
  riseCelsius: z.number().nonnegative().max(300).default(38),
  /** Time after which 63 % of that is reached. */
  tauSeconds: z.number().positive().max(1e5).default(180),
  /** From here on it slows down, and `spanCelsius` above it runs at `leastShare` of its rate. */
  limitCelsius: celsius.default(75),
  spanCelsius: z.number().positive().max(100).default(4),
  leastShare: share.default(0.25),
});
export type Heat = z.infer<typeof Heat>;

/** The fast part of a drive that takes writes first. Its bytes are those of an empty drive. */
export const Cache = z.object({
  /** One after another, each with the rate at which it takes data. */
  stages: z
    .array(z.object({ bytes, mbps: rate.optional() }))
    .min(1)
    .max(4),
  /** What is left when all are full. */
  foldedMBps: rate.optional(),
  /** How fast it is emptied while the drive is left alone. */
  recoverMBps: rate.optional(),
  /** Share of it that is there however full the drive is. */
  fixedShare: share.default(0.1),
});
export type Cache = z.infer<typeof Cache>;

export const PartModel = z.strictObject({
  /** What it really carries, MB/s of payload; of a drive its native rates. */
  limits: eachWay(rate).default({}),
  /** What it adds to each request. */
  requestUs: eachWay(us).default({}),
  /** Lets so much through a second and holds no single request back, as traffic shapers do. */
  meter: z.object({ mbps: rate.optional(), iops: rate.optional() }).optional(),
  heat: Heat.optional(),
  // Of drives only.
  medium: z.enum(["flash", "disk"]).default("flash"),
  /** How many requests it works on at once. */
  channels: z.number().int().positive().max(4096).optional(),
  cache: Cache.optional(),
  /** Of a disk: what the innermost zone gives of the outermost one, an average seek, and its speed. */
  innerShare: share.default(0.5),
  seekMs: z.number().positive().max(1000).default(8.5),
  rpm: z.number().positive().max(100_000).default(7200),
  /** Share of its capacity that holds data, and whether it has been written over before. */
  filled: share.default(0),
  used: z.boolean().default(false),
  capacityBytes: bytes.optional(),
});
export type PartModel = z.infer<typeof PartModel>;

/** The rest of the bench: the room, the computer, the file system, and how restless it all is. */
export const BenchModel = z.strictObject({
  ambientCelsius: z.number().min(-60).max(100).default(22),
  /** 0: none; 1: a quiet bench, whose tenths of a second differ by 1.2 % and whose repeats by 0.4 %. */
  noise: z.number().min(0).max(20).default(1),
  /**
   * Processor time of one request. 3 µs is what this program's own lanes need on the kernel's ring,
   * measured on two cores (README): at most some 330 000 requests a second by one process.
   */
  processorUs: us.default(3),
  /** What the file system leaves of a rate, and adds to each request. */
  fileSystem: z.strictObject({ share: share.default(1), requestUs: us.default(0) }).default({
    share: 1,
    requestUs: 0,
  }),
});
export type BenchModel = z.infer<typeof BenchModel>;

const at = z.string();

/** Something that is wrong, and where: the part at the link's end towards the drive, or the part itself. */
export const Fault = z.discriminatedUnion("kind", [
  /** The link to this part runs one generation below what both ends can. */
  z.strictObject({ kind: z.literal("dropped"), at }),
  /** The slot above this part has one lane only. */
  z.strictObject({ kind: z.literal("wrong-slot"), at }),
  /** Dips, retries, now and then a reset, and a wide spread. */
  z.strictObject({ kind: z.literal("flaky"), at }),
  /** The bay of this drive: a third of the rate, and errors. */
  z.strictObject({ kind: z.literal("bad-bay"), at }),
  /** Its heat goes nowhere: it gets two and a half times as much warmer. */
  z.strictObject({ kind: z.literal("no-heat-pad"), at }),
  /** Each write waits for the medium. */
  z.strictObject({ kind: z.literal("cache-off"), at }),
  /** One request at a time, whatever the driver could do. */
  z.strictObject({ kind: z.literal("unqueued") }),
  /** Something else moves data on the same path, on and off. */
  z.strictObject({ kind: z.literal("background"), mbps: rate }),
  /** The drive holds less than it says. */
  z.strictObject({ kind: z.literal("counterfeit"), at, bytes }),
  /** The file system, or where it runs, leaves so much of the rate. */
  z.strictObject({ kind: z.literal("file-system"), share: share }),
  /** The system's memory answers in the drive's place. */
  z.strictObject({ kind: z.literal("memory") }),
]);
export type Fault = z.infer<typeof Fault>;

/** Everything the simulated bench knows of one rig. */
export const Simulation = z.strictObject({
  bench: BenchModel.default(() => BenchModel.parse({})),
  /** By the part's identifier. */
  parts: z.record(z.string(), PartModel).default({}),
  faults: z.array(Fault).max(24).default([]),
});
export type Simulation = z.infer<typeof Simulation>;

/** A simulation as written, with what it leaves out still to be filled in. */
export type SimulationInput = z.input<typeof Simulation>;

export const FAULT_NAMES: Record<Fault["kind"], string> = {
  dropped: "link dropped a generation",
  "wrong-slot": "slot with one lane",
  flaky: "flaky cable or plug",
  "bad-bay": "bad bay",
  "no-heat-pad": "heat pad missing",
  "cache-off": "write cache off",
  unqueued: "no queueing",
  background: "background traffic",
  counterfeit: "drive smaller than it says",
  "file-system": "costly file system",
  memory: "memory answers",
};
