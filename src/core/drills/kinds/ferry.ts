import * as z from "zod";
import { formatSize } from "../../units/size";
import { defineDrill, first } from "../kind";
import { block, compressible, type Parameter } from "../parameter";
import { MixEntry } from "../../run/program";

const KIB = 2 ** 10;
const MIB = 2 ** 20;

/** Camera files, documents and a few long recordings: 1.1 GB in 1 218 files. */
export const USUAL_MIX: MixEntry[] = [
  { files: 1000, bytes: 64 * KIB },
  { files: 200, bytes: 2 * MIB },
  { files: 16, bytes: 24 * MIB },
  { files: 2, bytes: 128 * MIB },
];

export const mixBytes = (mix: readonly MixEntry[]): number =>
  mix.reduce((sum, { files, bytes }) => sum + files * bytes, 0);
export const mixFiles = (mix: readonly MixEntry[]): number =>
  mix.reduce((sum, { files }) => sum + files, 0);

const mix: Parameter<MixEntry[] | null> = {
  label: "Files made up",
  hint: "so many of each size, for example 1000 x 64KiB, 20 x 8MiB; empty: the folder you name",
  kind: "mix",
  schema: z
    .array(MixEntry, { error: "must be files and sizes, for example 1000 x 64KiB, 20 x 8MiB" })
    .min(1, "at least one size")
    .max(20, "at most twenty sizes")
    .nullable(),
  usual: () => ({
    value: null,
    reason: `the folder you name; where none is named, ${mixFiles(USUAL_MIX)} files of 64 KiB to 128 MiB, ${formatSize(mixBytes(USUAL_MIX), 1000)} in all`,
  }),
};

const seed: Parameter<number> = {
  label: "Seed",
  hint: "the same seed makes the same files",
  kind: "number",
  schema: z
    .number({ error: "must be a number" })
    .int("must be a whole number")
    .min(0, "not negative")
    .max(2 ** 32 - 1, "too large"),
  usual: () => ({ value: 1, reason: "1: any number will do" }),
};

const flag = (label: string, hint: string, value: boolean, reason: string): Parameter<boolean> => ({
  label,
  hint,
  kind: "flag",
  schema: z.boolean({ error: "must be yes or no" }),
  usual: () => ({ value, reason: `${value ? "yes" : "no"}: ${reason}` }),
});

const SOURCES = ["cold", "warmed", "as it is"] as const;
const source: Parameter<(typeof SOURCES)[number]> = {
  label: "Source",
  hint: "dropped from memory, read once before, or left as it is",
  kind: "choice",
  choices: SOURCES,
  schema: z.enum(SOURCES, { error: `must be one of ${SOURCES.join(", ")}` }),
  usual: () => ({
    value: "cold",
    reason: "cold: as after plugging in; warmed shows the other side alone",
  }),
};

/** Ferry: a folder of many sizes copied from A to B. */
export const FERRY = defineDrill({
  name: "ferry",
  title: "Ferry",
  what: "copy of a folder of many sizes from A to B",
  why: "Shows the time of a real copy, which side waited for the other, and the time that each file adds.",
  directions: ["write", "read"],
  usualDirection: "write",
  targets: "one",
  source: true,
  picture: "copy",
  shows: [],
  repeats: 1,
  parameters: {
    mix,
    seed,
    source,
    verify: flag(
      "Check the copy",
      "each file is read back and held against its source",
      false,
      "it doubles the time; Proof looks at the medium more closely",
    ),
    keep: flag(
      "Keep the copy",
      "it stays in a folder of its own beside your files",
      false,
      "it is removed at the end",
    ),
    block: block(MIB, "as copying programs read and write"),
    compressible,
  },
  program: ({ direction, mix, seed, source, verify, keep, block, compressible }, { targets }) => {
    const other = targets > 1 ? 1 : null;
    const [from, to] = direction === "write" ? [other, 0] : [0, other];
    return [
      {
        do: "copy" as const,
        from,
        to,
        mix: mix ?? (from === null ? USUAL_MIX : null),
        seed,
        source,
        verify: verify && from !== null && to !== null,
        keep,
        block,
        compressible,
      },
    ];
  },
  headline: first,
  summary: ({ mix, source }) =>
    mix
      ? `${mixFiles(mix)} files made up, ${formatSize(mixBytes(mix), 1000)}; source ${source}`
      : `source ${source}`,
});
