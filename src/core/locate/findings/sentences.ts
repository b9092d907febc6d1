import { called, capital, fileSystemCalled } from "../../chain/wording";
import { allLinks } from "../../chain/link";
import type { Rig } from "../../chain/rig";
import { formatChance, IN_MB, type RateWords } from "../../units/number";
import { placesOf, type Explanation, type Located, type Place } from "../locate";
import { degreeOf } from "./certainty";
import type { NextSwap, Outcome } from "../steps/next-swap";
import { PRIORS } from "../hypotheses/opinion";
import { LARGE } from "../observations/requests";
import type { At } from "../hypotheses/site";
import type { Trial } from "../likelihood/trial";

/** How likely, as said beside the number; of causes that are less than likely too. */
export function likelihood(probability: number): string {
  const degree = degreeOf(probability);
  if (degree !== "open") return degree;
  if (probability >= 0.2) return "possible";
  return probability >= 0.05 ? "unlikely" : "very unlikely";
}

/** How likely a cause is, in the word with its percentage: "unlikely, 12 %". */
export const likelihoodWords = (probability: number): string =>
  `${likelihood(probability)}, ${formatChance(probability)}`;

/** What is explained: of which rig, and what is known of it. */
type Explained = Pick<Located, "rig" | "trial">;

/** What an explanation says, as a sentence without its end. */
export function tellExplanation({ kind, site, at }: Explanation, of: Explained): string {
  const [one, two] = site?.parts ?? [];
  switch (kind) {
    case "dropped-mode":
      return `${called(one!)} holds its link to a slower mode`;
    case "own-limit":
      return one!.kind === "drive" && isSmall(of.trial)
        ? `${called(one!)} itself takes so long for each request`
        : `${called(one!)} has a limit of its own there`;
    case "fault":
      return `${called(one!)} is at fault`;
    case "pairing":
      return `${called(one!)} and ${called(two!)} work badly together`;
    case "condition":
      return `${site!.name} reduces the rate`;
    case "as-designed":
      return `nothing is wrong: ${tellDesign(at, of)}`;
    case "memory-answered":
      return "memory answered in the drive’s place";
    case "nothing":
      return `${PRIORS.nothing.name}`;
  }
}

const isSmall = ({ ledger: { requests } }: Trial): boolean =>
  requests !== null && requests.block < LARGE;

/** Of small requests, whether it is a link that lets no more of them through, not the time of each. */
const isLink = (at: At, { rig }: Explained): boolean =>
  at !== null && "ledger" in at && at.ledger !== rig.parts.at(-1)!.id;

function tellDesign(at: At, of: Explained): string {
  const { requests } = of.trial.ledger;
  const name = ledgerName(at, of);
  if (!requests) return `${name} carries no more`;
  return isLink(at, of) ? `such requests get no more through ${name}` : `${name} allows no more`;
}

function ledgerName(at: At, { rig, trial }: Explained): string {
  if (at && "condition" in at)
    return trial.ledger.requests ? "the driver mode" : "the link in its driver mode";
  if (trial.ledger.requests && !isLink(at, { rig, trial }))
    return `what each request takes on the way to ${rig.parts.at(-1)!.name}`;
  const id = at && "ledger" in at ? at.ledger : null;
  const part = [...rig.parts, ...rig.beside, ...rig.other].find((one) => one.id === id);
  if (!part) return "its ledger";
  const link = allLinks(rig).find(({ lower }) => lower.id === id);
  // Where one part between its ends makes it as slow as it is, that is named too.
  const [holding, ...others] = link?.heldBy ?? [];
  const through =
    holding && others.length === 0 && holding.id !== id ? `through ${holding.name} ` : "";
  return `the link ${through}to ${part.name}`;
}

/** What an explanation accuses, as the subject of a sentence: "cable K2", "NTFS through FUSE". */
export function causeSubject(cause: Explanation, of: Explained): string {
  const { kind, site } = cause;
  const [one, two] = site?.parts ?? [];
  if (site?.kind === "part" && one) return called(one);
  if (site?.kind === "pairing" && one && two) return `${called(one)} with ${called(two)}`;
  if (site?.kind === "fileSystem") return fileSystemCalled(of.rig);
  if (site || kind !== "nothing") return placeName(cause, of);
  return "a cause that is on no list";
}

/** Where an explanation looks, in a few words. */
export function placeName({ kind, site, at }: Explanation, of: Explained): string {
  if (site) return site.name;
  if (kind === "as-designed") return ledgerName(at, of);
  return kind === "memory-answered" ? "memory" : PRIORS.nothing.name;
}

/** What would follow of an outcome: "then it is K2 (88 %)". */
export function tellOutcome({ then }: Outcome, located: Located): string {
  const { explanations } = located;
  const [first, second] = then;
  const name = (place: string) => {
    const found =
      explanations.find((one) => (one.group ?? one.place) === place) ??
      explanations.find((one) => one.place === place);
    return found ? placeName(found, located) : PRIORS.nothing.name;
  };
  if (!first) return "that tells nothing";
  const one = `${name(first.place)} (${formatChance(first.probability)})`;
  return first.probability >= 0.8 || !second
    ? `then it is ${one}`
    : `then it is ${one} or ${name(second.place)} (${formatChance(second.probability)})`;
}

/** The rates of an outcome: "404 to 470 MB/s", "less than 404 MB/s". */
export const tellRange = ({ fromMBps, toMBps }: Outcome, { rate, said }: RateWords): string =>
  fromMBps > 0 ? `${rate(fromMBps)} to ${said(toMBps)}` : `less than ${said(toMBps)}`;

/** The next swap as a sentence: what to do, and what its outcomes would mean. */
export function tellNext(next: NextSwap, located: Located, rates: RateWords = IN_MB): string {
  const outcomes = next.outcomes
    .slice(0, 3)
    .map((outcome) => `at ${tellRange(outcome, rates)} ${tellOutcome(outcome, located)}`)
    .join("; ");
  return `Next: ${tellChange(next, located.rig)}. ${outcomes.charAt(0).toUpperCase()}${outcomes.slice(1)}.`;
}

/** What is known of a rig by now: what it gives, what limits it, and how sure that is. */
export function tellLocated(located: Located, rates: RateWords = IN_MB): string {
  const { explanations, rig, observedMBps, direction } = located;
  const [likeliest, next] = placesOf(explanations);
  const [first, second] = [likeliest?.explanations[0], next?.explanations[0]];
  const does = direction === "read" ? "reads" : "writes";
  const gave = `${rig.name || "The rig"} ${does} ${rates.said(observedMBps)}`;
  if (!first) return `${gave}. No known cause explains it.`;
  const { probability } = likeliest!;
  const chance = formatChance(probability);
  const others = othersOf(likeliest!);
  const degree = degreeOf(probability);
  if (others > 0)
    return `${gave}. What limits it is open: ${causeSubject(first, located)} or ${otherCauses(others)}, together ${chance}.`;
  if (degree !== "open")
    return `${gave}. ${capital(degree)} (${chance}): ${tellExplanation(first, located)}.`;
  const also = second
    ? ` or ${causeSubject(second, located)} (${formatChance(next!.probability)})`
    : "";
  return `${gave}. What limits it is open: ${causeSubject(first, located)} (${chance})${also}.`;
}

/** Further places that cannot be told from the first of a place. */
export const othersOf = ({ explanations }: Place): number =>
  new Set(explanations.map(({ place }) => place)).size - 1;

/** "one of 3 other causes that these parts cannot separate". */
export const otherCauses = (count: number): string =>
  count === 1
    ? "one other cause that these parts cannot separate"
    : `one of ${count} other causes that these parts cannot separate`;

/** What is done, and to which rig where that is not the slow one. */
export function tellChange({ text, base }: NextSwap, slow: Rig): string {
  return base.id === slow.id ? text : `in ${base.name || "another rig"} ${text}`;
}
