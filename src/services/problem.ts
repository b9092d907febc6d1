import * as z from "zod";
import { plainWords } from "@/core/units/plain-words";
import { Refusal } from "@/engine/refusal";

/** Something a tester can put right: said plainly, and for each field where it belongs to one. */
export class Problem extends Error {
  constructor(
    readonly status: 400 | 403 | 404 | 409 | 413 | 422 | 507,
    message: string,
    readonly fields: { path: string; message: string }[] = [],
    readonly code: string | null = null,
  ) {
    super(message);
    this.name = "Problem";
  }
}

/**
 * Whether an error is a Problem. The server may hold this module twice (its start-up and its routes
 * are bundled apart), so the class alone does not tell.
 */
export const isProblem = (error: unknown): error is Problem =>
  error instanceof Error && error.name === "Problem";

/** What SQLite says where it is not the request's fault that nothing can be written, in words. */
const STORE_FAULTS: Record<string, string> = {
  SQLITE_FULL: "its disk is full",
  SQLITE_BUSY: "another program holds it",
  SQLITE_LOCKED: "another program holds it",
  SQLITE_READONLY: "it is read-only",
  SQLITE_IOERR: "its disk fails",
  SQLITE_CANTOPEN: "its files cannot be opened",
  SQLITE_CORRUPT: "it is damaged",
  SQLITE_NOTADB: "it is damaged",
};

const faultIn = (error: unknown): string | undefined =>
  Object.entries(STORE_FAULTS).find(([code]) =>
    String((error as { code?: string } | null)?.code).startsWith(code),
  )?.[1];

/** Whether an error says that the database cannot be read or written, whatever is asked of it. */
export const isStoreFault = (error: unknown): boolean => faultIn(error) !== undefined;

/** A fault of the database as a Problem. */
export const storeProblem = (error: unknown): Problem =>
  new Problem(
    507,
    `Nerrit's database cannot be written: ${faultIn(error)}. Nothing was changed. Make room or end the other program, and try again.`,
    [],
    "store",
  );

/**
 * Does what the engine may refuse.
 *
 * @throws Problem in place of its refusal
 */
export async function unrefused<T>(work: Promise<T>): Promise<T> {
  try {
    return await work;
  } catch (error) {
    if (error instanceof Refusal) throw new Problem(422, error.message, [], error.code);
    throw error;
  }
}

/**
 * Checks input against a schema.
 *
 * @throws Problem 422 that names every field that is wrong
 */
export function checked<T extends z.ZodType>(schema: T, input: unknown): z.infer<T> {
  const result = schema.safeParse(input, { error: plainWords });
  if (result.success) return result.data;
  throw problemOf(result.error.issues);
}

/**
 * Does what may find input wrong.
 *
 * @throws Problem 422 in place of a schema's error
 */
export function checkedBy<T>(attempt: () => T): T {
  try {
    return attempt();
  } catch (error) {
    if (error instanceof z.ZodError) throw problemOf(error.issues);
    throw error;
  }
}

/** Does what may be out of the question. @throws Problem in the place of a RangeError */
export function inRange<T>(attempt: () => T): T {
  try {
    return attempt();
  } catch (error) {
    if (error instanceof RangeError) throw new Problem(422, error.message);
    throw error;
  }
}

function problemOf(issues: readonly z.core.$ZodIssue[]): Problem {
  const fields = issues.map(({ path, message }) => ({ path: path.join("."), message }));
  const [first] = fields;
  const [issue] = issues;
  const message = !first
    ? "The input is not valid."
    : first.path
      ? `${pathInWords(issue!.path)}: ${first.message}`
      : `The request ${first.message}.`;
  return new Problem(422, message, fields);
}

/** Where something is, as people count: "parts 6, name" for ["parts", 5, "name"]. */
const pathInWords = (path: readonly PropertyKey[]): string =>
  path
    .map((step) => (typeof step === "number" ? ` ${step + 1}` : `, ${String(step)}`))
    .join("")
    .replace(/^, /, "");
