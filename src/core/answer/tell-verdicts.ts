import { inClaimsWords, printedWords } from "../chain/claim";
import { scopeOf, type Verdict } from "../judge/verdict";
import { counted } from "../units/counted";
import { formatPercent, IN_MB, type RateWords } from "../units/number";
import { capital, doing, list, say, type Segment } from "../chain/wording";

/** More than this of single claims is no answer any more. */
const MOST_TOLD = 12;
/** Parts that are named of those that keep the same claim. */
const NAMED = 6;
/** Fewer are told of one by one. */
const LEAST_TOGETHER = 3;

const GRAVEST: Verdict["kind"][] = [
  "Falls short",
  "Falls short in this combination",
  "Delivers in bursts only",
  "Delivers",
  "Can't tell yet",
];

/** The verdicts in sentences: of many those first that find fault, and what many keep alike in one. */
export function tellVerdicts(verdicts: readonly Verdict[], rates = IN_MB): Segment[][] {
  const order =
    verdicts.length <= MOST_TOLD
      ? verdicts
      : verdicts.toSorted((a, b) => GRAVEST.indexOf(a.kind) - GRAVEST.indexOf(b.kind));
  const groups = new Map<string, Verdict[]>();
  for (const verdict of order) {
    const key = keyOf(verdict);
    groups.set(key, [...(groups.get(key) ?? []), verdict]);
  }
  const all = [...groups.values()].flatMap((some) =>
    some.length < LEAST_TOGETHER ? some.map((one) => [one]) : [some],
  );
  const told = all.flatMap((some) => tell(some, rates) ?? []);
  const more = told.length - MOST_TOLD;
  return [
    ...told.slice(0, MOST_TOLD),
    ...(more > 0 ? [`Judge has ${counted(more, "verdict")} more.`] : []),
  ].map((text) => [say(text)]);
}

/** By how much a claim is missed is told of each by itself. */
const keyOf = ({ kind, claim, part, observed }: Verdict) =>
  JSON.stringify([kind, claim, scopeOf(kind) ? part.id : "", observed !== null]);

function tell(alike: readonly Verdict[], rates: RateWords): string | null {
  const [{ kind, claim, observed, shortBy }] = alike as readonly [Verdict];
  const names = alike.map(({ part }) => part.name);
  const shown = names.length > NAMED + 1 ? names.slice(0, NAMED) : names;
  const rest = names.length - shown.length;
  const who = list([...shown, ...(rest > 0 ? [`${rest} others`] : [])]);
  const [s, they] = names.length === 1 ? ["s", "it claims"] : ["", "they claim"];
  const what = `the ${inClaimsWords(claim, claim.mbps, rates)} ${they} for ${doing(claim.direction)}${printedWords(claim)}`;
  switch (kind) {
    case "Delivers":
      return `${capital(who)} deliver${s} ${what}.`;
    case "Delivers in bursts only":
      return `${capital(who)} deliver${s} ${what} in bursts only.`;
    case "Falls short":
      return `${capital(who)} fall${s} ${formatPercent(shortBy!)} short of ${what}.`;
    case "Falls short in this combination":
      return `${capital(who)} fall${s} ${formatPercent(shortBy!)} short of ${what} in this combination; whether ${who} ${names.length === 1 ? "is" : "are"} slow elsewhere is open.`;
    case "Can't tell yet":
      return observed ? `Whether ${who} deliver${s} ${what} can't be told yet.` : null;
  }
}
