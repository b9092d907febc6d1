import * as z from "zod";
import type { Replay } from "../../run/program";
import { MOST_WORKS, Pace, Pauses, RecordedWork } from "../../run/recorded-work";
import { counted } from "../../units/counted";
import { formatDuration } from "../../units/number";
import { formatSize } from "../../units/size";
import { defineDrill, together } from "../kind";
import { spanSchema, wholeMiB, type Parameter } from "../parameter";

const recordings: Parameter<RecordedWork[]> = {
  label: "Recordings",
  hint: "what nerrit record or Watch recorded; several are done one after another, or at once",
  kind: "recordings",
  schema: z
    .array(RecordedWork, { error: "must be recordings" })
    .max(MOST_WORKS, `at most ${MOST_WORKS} recordings`),
  usual: () => ({ value: [], reason: "none: name the work that is to be done again" }),
};

const pace: Parameter<Pace> = {
  label: "Pace",
  hint: "asap: a request goes when those before it are answered; as-recorded: at its recorded time",
  kind: "choice",
  choices: Pace.options,
  schema: Pace,
  usual: () => ({
    value: "asap",
    reason: "asap: the work ends sooner on a quicker rig, as it would for you",
  }),
};

const pauses: Parameter<Pauses> = {
  label: "Pauses",
  hint: "the time between an answer and the next request, in which a program thinks",
  kind: "choice",
  choices: Pauses.options,
  schema: Pauses,
  usual: () => ({
    value: "kept",
    reason: "kept: the time is that of the whole work; left-out shows the drive alone",
  }),
};

const ORDERS = ["one-after-another", "at-once"] as const;
const order: Parameter<(typeof ORDERS)[number]> = {
  label: "Several recordings",
  hint: "one-after-another, or at-once as when several programs work side by side",
  kind: "choice",
  choices: ORDERS,
  schema: z.enum(ORDERS, { error: `must be ${ORDERS.join(" or ")}` }),
  usual: () => ({ value: "one-after-another", reason: "one-after-another: each has its own time" }),
};

/** A scratch file as large as what the recordings touch, or as there is room for. */
const span: Parameter<number> = {
  label: "Span",
  hint: "size of the scratch file; what the recording touched is folded into less",
  kind: "size",
  schema: spanSchema,
  usual(facts, set) {
    const wanted = wholeMiB(2 ** 20 - 1 + touched(set.recordings, set.order));
    if (facts && facts.room < wanted) {
      const value = wholeMiB(facts.room);
      return {
        value,
        reason: `${formatSize(value)}: all that fits beside the reserve; the work touched ${formatSize(wanted)}, which is folded in`,
      };
    }
    return { value: wanted, reason: `${formatSize(wanted)}: what the work touched` };
  },
};

/** Bytes that recordings touch: of those that are done at once, together. */
function touched(recordings: unknown, order: unknown): number {
  const each = worksOf({ recordings }).map(({ workingSetBytes }) => workingSetBytes);
  return order === "at-once" ? each.reduce((sum, one) => sum + one, 0) : Math.max(0, ...each);
}

/** The recordings that a drill does again; of any other drill none. */
export const worksOf = ({ recordings }: Readonly<Record<string, unknown>>): RecordedWork[] =>
  z.array(RecordedWork).catch([]).parse(recordings);

/** A recording, and the stretch of the scratch file that it is done over. */
type StretchedWork = Replay["works"][number];

/** The smallest unit of a span's division among recordings that are done at once. */
const PAGE = 4096;

/** Encore: a recording, done again. */
export const ENCORE = defineDrill({
  name: "encore",
  title: "Encore",
  what: "a recording of real work, done again",
  why: "Shows how long your own work takes through a rig, and how much of that time it waits for the drive. The rest of the time no rig changes.",
  directions: ["mixed"],
  targets: "one",
  recorded: true,
  picture: "work",
  shows: [],
  repeats: 1,
  parameters: { recordings, pace, pauses, order, span },
  program({ recordings, pace, pauses, order, span }) {
    const whole = touched(recordings, order);
    // Side by side each has its own stretch, as large a share of the span as of what all touch.
    let first = 0;
    const works = recordings.map(({ sha256, workingSetBytes }) => {
      const share = whole > 0 ? Math.min(1, span / whole) * workingSetBytes : span;
      const own = Math.max(PAGE, Math.floor(share / PAGE) * PAGE);
      const work = { sha256, first: order === "at-once" ? first : 0, span: own };
      first += own;
      return work;
    });
    if (works.length === 0) return [];
    const step = (of: readonly RecordedWork[], works: StretchedWork[]) => ({
      do: "replay" as const,
      label: { name: of.map(({ name }) => name).join(", ") },
      works,
      pace,
      pauses,
      bytes: of.reduce((sum, one) => sum + one.bytesRead + one.bytesWritten, 0),
      written: of.reduce((sum, one) => sum + one.bytesWritten, 0),
      ms: Math.max(...of.map(({ ms }) => ms)),
    });
    return order === "at-once"
      ? [step(recordings, works)]
      : works.map((work, i) => step([recordings[i]!], [work]));
  },
  headline: together,
  summary: ({ recordings, pace, pauses, order }) =>
    recordings.length === 0
      ? "no recording named"
      : `${recordings.map(inWords).join(order === "at-once" ? " beside " : ", then ")}; ${paceWords({ pace, pauses })}`,
});

const inWords = ({ name, ms, requests }: RecordedWork): string =>
  `${name} (${formatDuration(ms)}, ${counted(requests, "request")})`;

/** How recordings are done again, in words: "as fast as answers come, pauses kept". */
export const paceWords = ({ pace, pauses }: Readonly<Record<string, unknown>>): string =>
  pace === "as-recorded"
    ? "at the recorded times"
    : `as fast as answers come, pauses ${pauses === "left-out" ? "left out" : "kept"}`;
