import * as z from "zod";
import { Room } from "../ballast/ballast";
import { blockSchema, depthSchema } from "../units/request";
import { shareFrom } from "../units/share";
import { formatSize, sizeIn } from "../units/size";

const bytes = z.number().nonnegative();

/** How large a drive's write cache is, and how that is known. */
export const KnownCache = z.object({
  bytes,
  /** By the tester, or by a sustained write that ran over its edge. */
  from: z.enum(["stated", "found"]),
});
export type KnownCache = z.infer<typeof KnownCache>;

/** What a drill's usual settings follow from: what is known of where it will run. */
export const TargetFacts = z.object({
  kind: z.enum(["directory", "device"]),
  /** What a run may take up: free space less the reserve, or the whole device. Bytes. */
  room: bytes,
  /** All of the file system, bytes, and what of it is free; left out of a device. */
  space: Room.optional(),
  /** The smallest request the device takes, bytes; null where the system does not say. */
  smallestBlock: bytes.nullable(),
  /** The drive's write cache; null where nothing is known of it. */
  cache: KnownCache.nullable(),
});
export type TargetFacts = z.infer<typeof TargetFacts>;

/** "the write cache of 24 GiB that you stated" */
export const cacheInWords = ({ bytes, from }: KnownCache): string =>
  `the write cache of ${formatSize(bytes)} that ${from === "stated" ? "you stated" : "a Long fill found"}`;

/** A usual setting, and why it is that. */
export interface Usual<T> {
  value: T;
  reason: string;
}

/** How a parameter is written by people. */
export type ParameterKind =
  | "size"
  | "sizes"
  | "number"
  | "numbers"
  | "seconds"
  | "share"
  | "text"
  | "flag"
  | "choice"
  | "mix"
  | "parts"
  | "recordings";

/** One thing that can be set of a drill. */
export interface Parameter<T = unknown> {
  /** What it is called in a form. */
  label: string;
  /** What it means, in a few words. */
  hint: string;
  kind: ParameterKind;
  /** Of a choice. */
  choices?: readonly string[];
  schema: z.ZodType<T>;
  /**
   * The usual setting.
   *
   * @param facts of the target; null where none is known yet
   * @param set what has been set of the parameters before this one
   */
  usual(facts: TargetFacts | null, set: Readonly<Record<string, unknown>>): Usual<T>;
}

export type Parameters = Readonly<Record<string, Parameter>>;

/** The values that a set of parameters describes. */
export type ValuesOf<P extends Parameters> = {
  [K in keyof P]: P[K] extends Parameter<infer T> ? T : never;
};

const MIB = 2 ** 20;
const GIB = 2 ** 30;

export const spanSchema = z
  .number({ error: "must be a size, for example 1GiB" })
  .int("must be whole bytes")
  .min(MIB, "must be at least 1 MiB")
  .max(2 ** 50, "must be at most 1 PiB");

export const secondsSchema = z
  .number({ error: "must be a number of seconds" })
  .min(0.5, "must be at least half a second")
  .max(7 * 86_400, "must be at most a week");

/** The block of a drill: where an owner states no reason, the kind's own. */
export const block = (bytes: number, reason: string): Parameter<number> => ({
  label: "Block",
  hint: "size of one request",
  kind: "size",
  schema: blockSchema,
  usual: (facts) =>
    facts?.smallestBlock && facts.smallestBlock > bytes
      ? {
          value: facts.smallestBlock,
          reason: `${formatSize(facts.smallestBlock)}: the device takes no smaller request`,
        }
      : { value: bytes, reason: `${formatSize(bytes)}: ${reason}` },
});

export const depth = (count: number, reason: string): Parameter<number> => ({
  label: "In flight",
  hint: "requests kept in flight",
  kind: "number",
  schema: depthSchema,
  usual: () => ({ value: count, reason: `${count}: ${reason}` }),
});

export const seconds = (count: number, label: string, reason: string): Parameter<number> => ({
  label,
  hint: "time that counts, after the lead-in",
  kind: "seconds",
  schema: secondsSchema,
  usual: () => ({ value: count, reason: `${count} s: ${reason}` }),
});

/** The largest whole number of MiB, at least one, in so many bytes. */
export const wholeMiB = (bytes: number) => Math.max(MIB, Math.floor(bytes / MIB) * MIB);

/**
 * How much of the medium is walked over: twice the write cache where that is known, else what was
 * found long enough; never more than there is room for.
 */
export const span = (usual = GIB): Parameter<number> => ({
  label: "Span",
  hint: "how much of the medium is walked over",
  kind: "size",
  schema: spanSchema,
  usual(facts) {
    if (facts?.kind === "device") {
      const value = wholeMiB(Math.min(facts.room, 8 * GIB));
      const whole = value >= wholeMiB(facts.room);
      return {
        value,
        reason: `${formatSize(value)}: ${whole ? "the whole device" : "beyond any drive’s read-ahead"}; it is only read`,
      };
    }
    const cache = facts?.cache ?? null;
    const wanted =
      cache === null ? usual : Math.max(usual, 2 ** Math.ceil(Math.log2(2 * cache.bytes)));
    if (facts && facts.room < wanted) {
      const value = wholeMiB(facts.room);
      return { value, reason: `${formatSize(value)}: all that fits beside the reserve` };
    }
    const why =
      cache === null
        ? "well beyond a drive’s own memory; its write cache is not known"
        : `larger than ${cacheInWords(cache)}`;
    return { value: wanted, reason: `${formatSize(wanted)}: ${why}` };
  },
});

/** How much of the data a drive could compress away. */
export const compressible: Parameter<number> = {
  label: "Compressible",
  hint: "share of each page that a drive could compress away",
  kind: "share",
  schema: z
    .number({ error: "must be a share, for example 50%" })
    .min(0, "at least 0 %")
    .max(1, "at most 100 %"),
  usual: () => ({
    value: 0,
    reason: "0 %: no controller gains by it; the same at 50 and 100 % shows whether one compresses",
  }),
};

/** Whether the flush at the end is part of the time. Its own time is always shown. */
export const countFlush = (counts: boolean, reason: string): Parameter<boolean> => ({
  label: "Flush counts",
  hint: "whether the flush at the end is part of the time",
  kind: "flag",
  schema: z.boolean({ error: "must be yes or no" }),
  usual: () => ({ value: counts, reason: `${counts ? "yes" : "no"}: ${reason}` }),
});

/** Powers of two from one size to another. */
export function doublings(from: number, to: number): number[] {
  const found: number[] = [];
  for (let value = from; value <= to; value *= 2) found.push(value);
  return found;
}

/** A value as text, the way people write it; reads back by `valueFrom`. */
export function textOf(parameter: Parameter, value: unknown): string {
  switch (parameter.kind) {
    case "size":
      return sizeText(value as number);
    case "sizes":
      return (value as number[]).map(sizeText).join(" ");
    case "numbers":
      return (value as number[]).join(" ");
    case "share":
      return `${Number(((value as number) * 100).toPrecision(6))} %`;
    case "flag":
      return value ? "yes" : "no";
    case "mix":
      return ((value ?? []) as { files: number; bytes: number }[])
        .map(({ files, bytes }) => `${files} x ${sizeText(bytes)}`)
        .join(", ");
    case "parts":
    case "recordings":
      return JSON.stringify(value);
    default:
      return value === null || value === undefined ? "" : String(value);
  }
}

/** A size as people write it where that says it exactly, else in bytes. */
function sizeText(bytes: number): string {
  if (!Number.isFinite(bytes)) return "";
  const short = formatSize(bytes);
  return sizeIn(short) === bytes ? short : String(bytes);
}

const asSize = (text: string) => sizeIn(text) ?? NaN;
const asNumber = (text: string) => (text.trim() === "" ? NaN : Number(text.trim()));

const asJson = (text: string): unknown => {
  try {
    return JSON.parse(text);
  } catch {
    return text;
  }
};

/** What a text says of a parameter; what makes no sense is handed to its schema, which refuses it. */
export function valueFrom(parameter: Parameter, text: string): unknown {
  const words = text.split(/[,\s]+(?![KMGTP]?i?B)/i).filter(Boolean);
  switch (parameter.kind) {
    case "size":
      return asSize(text);
    case "sizes":
      return words.map(asSize);
    case "numbers":
      return words.map(asNumber);
    case "share": {
      const share = shareFrom(text);
      return Number.isNaN(share) ? asNumber(text) : share;
    }
    case "flag":
      return /^\s*(yes|true|1)\s*$/i.test(text)
        ? true
        : /^\s*(no|false|0)\s*$/i.test(text)
          ? false
          : text;
    case "text":
    case "choice":
      return text;
    case "mix":
      return text.trim() === ""
        ? null
        : text.split(",").map((entry) => {
            const [files = "", size = ""] = entry.split(/[x×]/);
            return { files: asNumber(files), bytes: asSize(size) };
          });
    case "parts":
    case "recordings":
      return asJson(text);
    default:
      return asNumber(text);
  }
}
