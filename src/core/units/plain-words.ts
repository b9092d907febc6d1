import type * as z from "zod";

/** What a kind of value is called in a sentence. */
const KINDS: Record<string, string> = {
  string: "text",
  number: "a number",
  int: "a whole number",
  boolean: "yes or no (true or false)",
  array: "a list",
  object: "an object with named fields",
  record: "an object with named fields",
  null: "empty",
};

/** "at least 2 entries", by what is counted. */
function amount(origin: string, count: number | bigint): string {
  const units: Record<string, [string, string]> = {
    string: ["character", "characters"],
    array: ["entry", "entries"],
    set: ["entry", "entries"],
  };
  const unit = units[origin];
  return unit ? `${count} ${count === 1 ? unit[0] : unit[1]}` : String(count);
}

/**
 * Says in plain words what is wrong with a value, where its schema does not say so itself.
 *
 * @returns undefined for what the schema words
 */
export function plainWords(issue: z.core.$ZodRawIssue): string | undefined {
  switch (issue.code) {
    case "invalid_type":
      if (issue.input === undefined) return "is missing";
      if (issue.expected === "int" || issue.expected === "number") {
        if (Number.isNaN(issue.input)) return `must be ${KINDS[issue.expected]}`;
      }
      return `must be ${KINDS[issue.expected] ?? issue.expected}`;
    case "invalid_value":
      return issue.input === undefined
        ? "is missing"
        : `must be ${issue.values.length > 1 ? "one of " : ""}${issue.values.join(", ")}`;
    case "too_small":
      return issue.inclusive === false
        ? `must be above ${issue.minimum}`
        : `must ${KEEPS[issue.origin] ?? "be"} at least ${amount(issue.origin, issue.minimum)}`;
    case "too_big":
      return issue.inclusive === false
        ? `must be below ${issue.maximum}`
        : `must ${KEEPS[issue.origin] ?? "be"} at most ${amount(issue.origin, issue.maximum)}`;
    case "not_multiple_of":
      return `must be a multiple of ${issue.divisor}`;
    case "unrecognized_keys":
      return `has fields that are not known here: ${issue.keys.join(", ")}`;
    case "invalid_key":
      return "has a field whose name cannot be";
    case "invalid_union":
      return "is in none of the forms it may have";
    case "invalid_format":
      return "is not in the form it should be";
    default:
      return undefined;
  }
}

/** Texts and lists hold something; a number is something. */
const KEEPS: Record<string, string> = { string: "have", array: "have" };
