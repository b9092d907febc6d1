/** Why a run was refused before it began, or came to an end too early. */
export type RefusalCode =
  | "no-such-target"
  | "no-answer"
  | "not-a-target"
  | "symbolic-link"
  | "exchanged"
  | "no-permission"
  | "no-space"
  | "no-direct-io"
  | "device-read-only"
  | "too-small"
  | "busy"
  | "own-database"
  | "too-deep"
  | "same-place"
  | "no-recording"
  | "unsupported";

/** A refusal: what is wrong, in words, and what to do about it. Nothing was written. */
export class Refusal extends Error {
  constructor(
    readonly code: RefusalCode,
    message: string,
  ) {
    super(message);
    this.name = "Refusal";
  }
}

/** A run that began and could not go on. Its samples stand. */
export class RunFailure extends Error {
  override name = "RunFailure";
}

/** The error code of a failed system call, or null for any other error. */
export function systemCode(error: unknown): string | null {
  const code = (error as { code?: unknown } | null)?.code;
  return typeof code === "string" ? code : null;
}
