import type { z } from "zod";

/** Something a tester can put right: said plainly, and for each field where it belongs to one. */
export class Problem extends Error {
  constructor(
    readonly status: 400 | 403 | 404 | 409 | 413 | 422,
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

/**
 * Checks input against a schema.
 *
 * @throws Problem 422 that names every field that is wrong
 */
export function checked<T extends z.ZodType>(schema: T, input: unknown): z.infer<T> {
  const result = schema.safeParse(input);
  if (result.success) return result.data;
  const fields = result.error.issues.map((issue) => ({
    path: issue.path.join("."),
    message: issue.message,
  }));
  const [first] = fields;
  throw new Problem(
    422,
    first ? [first.path, first.message].filter(Boolean).join(": ") : "The input is not valid.",
    fields,
  );
}
