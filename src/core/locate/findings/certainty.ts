import { formatChance } from "../../units/number";
import { span } from "../../chain/wording";

/** How sure a cause is, as every page says it: the same word for the same probability. */
export type Degree = "shown" | "very likely" | "likely" | "open";

/** The certainty of one cause; of several rigs that it explains, from the least sure to the surest. */
export interface Certainty {
  degree: Degree;
  /** Probabilities, 0 to 1. */
  least: number;
  most: number;
}

/** From here on a cause is stated as a fact. */
export const SHOWN = 0.95;
/** From here on a cause is very likely. */
const VERY_LIKELY = 0.8;
/** From here on one cause is named; below it the question is open. */
export const LIKELY = 0.5;

/** The degree of certainty of a probability. */
export function degreeOf(probability: number): Degree {
  if (probability >= SHOWN) return "shown";
  if (probability >= VERY_LIKELY) return "very likely";
  return probability >= LIKELY ? "likely" : "open";
}

/** The certainty of one cause in several rigs. @param probabilities at least one, all of one degree */
export const certaintyOf = (probabilities: readonly number[]): Certainty => ({
  degree: degreeOf(Math.min(...probabilities)),
  least: Math.min(...probabilities),
  most: Math.max(...probabilities),
});

/** The percentage of a certainty: "65 %", "82 to 91 %". */
export const chanceWords = ({ least, most }: Pick<Certainty, "least" | "most">): string =>
  span([least, most], formatChance, formatChance);

/** A certainty in words, with its percentage: "likely, 65 %". */
export const certaintyWords = (certainty: Certainty): string =>
  `${certainty.degree}, ${chanceWords(certainty)}`;

/** A certainty as an adverb before its verb: "", "very likely (93 %) ". */
export const adverbOf = (certainty: Certainty): string =>
  certainty.degree === "shown" ? "" : `${certainty.degree} (${chanceWords(certainty)}) `;
