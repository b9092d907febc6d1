import * as z from "zod";
import { PartKind } from "../../chain/part";

/**
 * Kinds of cause by which a rig may carry less than its ledger says, as said in a sentence, with the
 * reason why each is held for as likely as it is.
 */
export const PRIORS = {
  "dropped-mode": {
    name: "the link runs at a slower mode than its parts say",
    why: "cables above all, then hubs and ports; a bent pin or a long lead costs a generation",
  },
  "own-limit": {
    name: "a limit of its own that its plug does not show",
    why: "bridges and drives are slower than their plugs more often than not, and seldom say so",
  },
  fault: {
    name: "a fault of the part",
    why: "errors and retries cost anything between a tenth and nearly all",
  },
  pairing: {
    name: "two parts that work badly together, though each is fine elsewhere",
    why: "seldom, and believed only when both parts are cleared",
  },
  condition: {
    name: "the file system, the driver, the host, the bay, or the state of the drive",
    why: "file systems in user space and old drivers halve rates, the usual ones cost little; bays wear; heat, a full drive and a write cache that is off count only where the system told of them",
  },
  nothing: {
    name: "nothing on this list",
    why: "a program that cannot be puzzled is sure of wrong things",
  },
} as const;
export type CauseKind = keyof typeof PRIORS;

/**
 * How often each of them turns out to hold a slow rig back, before anything is known of this one:
 * experience of those who test such gear, to a factor of about two. What matters is how they stand to
 * one another.
 */
const USUAL_SHARES = {
  "host-port dropped-mode": 0.04,
  "host-port own-limit": 0.05,
  "cable dropped-mode": 0.08,
  "cable fault": 0.05,
  "hub dropped-mode": 0.06,
  "hub own-limit": 0.06,
  "adapter dropped-mode": 0.05,
  "adapter own-limit": 0.06,
  "enclosure dropped-mode": 0.03,
  "enclosure own-limit": 0.06,
  "enclosure fault": 0.02,
  "network-box dropped-mode": 0.03,
  "network-box own-limit": 0.1,
  "drive own-limit": 0.05,
  "drive fault": 0.03,
  // Of small requests, where nobody entered how long one takes the drive.
  "request time": 0.2,
  // Of what a drive sustains in writing once its cache is full.
  "sustained writing": 0.3,
  // Of all pairings of a rig together.
  pairing: 0.1,
  fileSystem: 0.08,
  transport: 0.06,
  // The mode that every system takes by itself is seldom what holds back.
  "usual transport": 0.012,
  host: 0.07,
  bay: 0.05,
  // Of a drive that was hot as the run began.
  temperature: 0.25,
  // Of a drive that was nearly full, or had its write cache off, as the system told.
  fill: 0.12,
  writeCache: 0.25,
  // Of a run in which other programs kept a core fully busy.
  processor: 0.4,
  // Of a run in which a core of the machine that serves the share had no time left.
  farProcessor: 0.4,
  // Of a copy that waited for the end that lies outside the rig.
  copySource: 0.4,
  copyTarget: 0.4,
  // That something which is on no list slows one set-up alone.
  nothing: 0.004,
} as const;
export type PriorKey = keyof typeof USUAL_SHARES;
export const PRIOR_KEYS = Object.keys(USUAL_SHARES) as [PriorKey, ...PriorKey[]];

/** Of shares that stand for something of their own, why they are as they are. */
const OWN_REASONS: Partial<Record<PriorKey, string>> = {
  "request time":
    "flash takes some 0.05 to 1 ms for each, a disk that seeks and turns 5 to 20 ms, and few makers print it",
  "sustained writing":
    "a cache takes what comes as fast as it comes; what lies behind it often takes a fraction of that",
};

/** Why a cause is held for as likely as it is. */
export const reasonOf = (key: PriorKey, kind: CauseKind): string =>
  OWN_REASONS[key] ?? PRIORS[kind].why;

/** Minutes that a change takes by hand, by what is changed: as watched at benches. */
export const MINUTES = {
  "host-port": 2,
  cable: 2,
  hub: 3,
  adapter: 4,
  enclosure: 8,
  "network-box": 10,
  drive: 8,
  without: 2,
  fileSystem: 15,
  transport: 5,
  host: 10,
  bay: 4,
  temperature: 15,
  fill: 20,
  writeCache: 2,
  processor: 2,
  farProcessor: 15,
  copySource: 5,
  copyTarget: 5,
} as const;
export type MinutesOf = keyof typeof MINUTES;
const MINUTES_KEYS = Object.keys(MINUTES) as [MinutesOf, ...MinutesOf[]];

const Share = z
  .number({ error: "must be a share" })
  .min(0.0001, "must be at least 0.01 %")
  .max(0.9, "must be at most 90 %");
const Minutes = z
  .number({ error: "must be a number of minutes" })
  .min(0, "must not be negative")
  .max(1440, "at most a day");

/** What a tester believes of causes and knows of their own hands, where it differs from the usual. */
export const Opinion = z.object({
  priors: z.partialRecord(z.enum(PRIOR_KEYS), Share).default({}),
  minutes: z.partialRecord(z.enum(MINUTES_KEYS), Minutes).default({}),
  /** What the next step is chosen for. */
  fewest: z.enum(["steps", "minutes"]).default("steps"),
});
export type Opinion = z.infer<typeof Opinion>;

export const USUAL_OPINION: Opinion = { priors: {}, minutes: {}, fewest: "steps" };

/** How often a cause occurs, as this tester believes. */
export const priorShare = ({ priors }: Opinion, key: PriorKey): number =>
  priors[key] ?? USUAL_SHARES[key];

/** How often it is usually taken to occur. */
export const usualShare = (key: PriorKey): number => USUAL_SHARES[key];

/** The causes that a kind of part can have. */
export const priorsOfPart = (part: PartKind): { key: PriorKey; kind: CauseKind }[] =>
  OF_PART.get(part) ?? [];

const OF_PART = new Map(
  PartKind.options.map((part) => [
    part,
    PRIOR_KEYS.filter((key) => key.startsWith(`${part} `)).map((key) => ({
      key,
      kind: key.slice(part.length + 1) as CauseKind,
    })),
  ]),
);

/** Minutes that a change takes this tester. */
export const minutesFor = ({ minutes }: Opinion, of: MinutesOf): number =>
  minutes[of] ?? MINUTES[of];
