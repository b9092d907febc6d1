import { claimWords, type Claim } from "../chain/claim";
import type { Part } from "../chain/part";
import { IN_MB, type RateWords } from "../units/number";
import type { Judged } from "./judged";
import type { VerdictKind } from "./verdict";

/** Copies of one model that claim the same, judged together. */
export interface Copies {
  model: string;
  claim: Claim;
  /** Each copy by itself. */
  parts: { part: Part; kind: VerdictKind; mbps: number | null }[];
  /** Largest less smallest median, as a share of the mean of both; null where fewer than two were measured. */
  spread: number | null;
}

/** What makes two parts copies of one model. */
const modelOf = ({ kind, maker, model }: Part) =>
  model ? [kind, maker, model].join("|").toLowerCase() : null;

/** Claims that several copies of one model make, in the order in which they stand. */
export function copiesIn(judged: readonly Judged[]): Copies[] {
  const groups = new Map<string, Judged[]>();
  for (const one of judged) {
    const model = modelOf(one.part);
    if (!model) continue;
    const key = `${model} ${JSON.stringify(one.claim)}`;
    groups.set(key, [...(groups.get(key) ?? []), one]);
  }
  return [...groups.values()].flatMap((alike) => {
    const [first] = alike as [Judged];
    if (new Set(alike.map(({ part }) => part.id)).size < 2) return [];
    const rates = alike.flatMap(({ observed }) => observed?.median ?? []);
    const [least, most] = [Math.min(...rates), Math.max(...rates)];
    return [
      {
        model: [first.part.maker, first.part.model].filter(Boolean).join(" "),
        claim: first.claim,
        parts: alike.map(({ part, kind, observed }) => ({
          part,
          kind,
          mbps: observed?.median ?? null,
        })),
        spread: rates.length > 1 ? (most - least) / ((most + least) / 2) : null,
      },
    ];
  });
}

const NUMBERS = ["none", "one", "two", "three", "four", "five", "six", "seven", "eight", "nine"];
const inWords = (count: number) => NUMBERS[count] ?? `${count}`;

/** The verdict on all copies in one sentence: "One of three falls short of peak 1 000 MB/s reading." */
export function tellCopies({ parts, claim, model }: Copies, rates: RateWords = IN_MB): string {
  const of = (kind: VerdictKind) => parts.filter((one) => one.kind === kind).length;
  const total = inWords(parts.length);
  const verbs: [VerdictKind, string, string][] = [
    ["Falls short", "falls short of", "fall short of"],
    [
      "Falls short in this combination",
      "in its combination falls short of",
      "in their combinations fall short of",
    ],
    ["Delivers in bursts only", "keeps in bursts only", "keep in bursts only"],
    ["Delivers", "delivers", "deliver"],
  ];
  const told = verbs.flatMap(([kind, one, many]) =>
    of(kind) > 0 ? [`${inWords(of(kind))} of ${total} ${of(kind) === 1 ? one : many} it`] : [],
  );
  const open = of("Can't tell yet");
  if (open > 0) told.push(`of ${inWords(open)} it can’t be told yet`);
  return `${model}, ${claimWords(claim, rates)}: ${told.join(", ")}.`;
}
