import type * as z from "zod";

/** What a line of JSON says; undefined where the line is no JSON. */
export function jsonOf(line: string): unknown {
  try {
    return JSON.parse(line);
  } catch {
    return undefined;
  }
}

/**
 * What a line of a file holds, within its bounds.
 *
 * @param json of `jsonOf`
 * @param number of the line, from 1
 * @throws RangeError that names the line, and what in it makes no sense
 */
export function checkedLine<T>(schema: z.ZodType<T>, json: unknown, number: number): T {
  if (json === undefined) throw new RangeError(`line ${number} is no JSON`);
  const found = schema.safeParse(json);
  if (found.success) return found.data;
  const [issue] = found.error.issues;
  throw new RangeError(`line ${number}: ${issue!.path.join(".")} ${issue!.message}`);
}
