import { isDeepStrictEqual } from "node:util";
import * as z from "zod";
import { Problem } from "./problem";

/** What a writer saw before it changed anything; left out by those who do not care. */
const Based = z.looseObject({ was: z.unknown().optional() });

/** A value in a few words, for a sentence; null for one that takes more. */
const said = (value: unknown): string | null =>
  typeof value === "string" && value.length <= 80
    ? `“${value}”`
    : typeof value === "number"
      ? String(value)
      : null;

/**
 * Refuses a write that rests on what somebody has changed meanwhile: in another tab, or by the command.
 *
 * @param input what was sent, with `was`: the same as the writer had it before
 * @param now as it stands
 * @param names what its fields are called; those without a name are called by their keys
 * @throws Problem 409, code "changed", that says what is otherwise now
 */
export function refuseIfChanged<T extends object>(
  input: unknown,
  schema: z.ZodType<T>,
  now: T,
  names: Readonly<Record<string, string>> = {},
): void {
  const based = Based.safeParse(input).data?.was;
  const was = based === undefined ? null : schema.safeParse(based).data;
  if (!was) return;
  const keys = [...new Set([...Object.keys(was), ...Object.keys(now)])] as (keyof T & string)[];
  const otherwise = keys.filter((key) => !isDeepStrictEqual(was[key], now[key]));
  if (otherwise.length === 0) return;
  const what = otherwise.map((key) => {
    const value = said(now[key]);
    const name = names[key] ?? key;
    return value === null ? `${name} changed` : `${name} is ${value} now`;
  });
  throw new Problem(
    409,
    `Meanwhile this was changed elsewhere: ${what.join(", ")}. Nothing of yours is lost: save again to overwrite that, or close the form to keep that.`,
    [],
    "changed",
  );
}
