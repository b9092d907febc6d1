/** Wrong usage: exit status 2. */
export class Usage extends Error {}

/** The run was refused, failed or did not come to its end: exit status 1. */
export class Failure extends Error {}

/** Prints one JSON document to standard output. */
export function printJson(document: unknown): void {
  process.stdout.write(`${JSON.stringify(document, null, 2)}\n`);
}
