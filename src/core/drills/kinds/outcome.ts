import * as z from "zod";
import { defineDrill, together } from "../kind";
import type { Parameter } from "../parameter";

/** In which ways a rig does not work, and how that is said. */
export const OUTCOME_WORDS = {
  "not-recognised": "is not recognised",
  "not-mountable": "is seen, but cannot be mounted",
  "drops-off": "drops off",
} as const;
export const OutcomeKind = z.enum(
  Object.keys(OUTCOME_WORDS) as [keyof typeof OUTCOME_WORDS, ...(keyof typeof OUTCOME_WORDS)[]],
);
export type OutcomeKind = z.infer<typeof OutcomeKind>;

const outcome: Parameter<OutcomeKind> = {
  label: "What happens",
  hint: "in which way it does not work",
  kind: "choice",
  choices: OutcomeKind.options,
  schema: OutcomeKind,
  usual: () => ({ value: "not-recognised", reason: "not recognised: what is seen most often" }),
};

/** Not done but seen: that a rig does not work. */
export const OUTCOME = defineDrill({
  name: "outcome",
  title: "Does not work",
  what: "what was seen of a rig that does not work",
  why: "A rig that is not recognised, cannot be mounted or drops off says as much of its parts as a rate does.",
  directions: ["mixed"],
  usualDirection: "mixed",
  targets: "one",
  picture: "rate",
  shows: [],
  repeats: 1,
  parameters: { outcome },
  program: () => [],
  headline: together,
  summary: ({ outcome }) => OUTCOME_WORDS[outcome],
});
