import { log } from "@/bench/log";
import { isProblem, Problem } from "@/bench/problem";

/** The most a request may say, bytes. */
const BODY_LIMIT = 256 * 1024;

/**
 * Answers a request: what `work` returns as JSON, a Problem as its own words, anything else as a
 * plain failure.
 */
export async function respond(work: () => unknown, status = 200): Promise<Response> {
  try {
    return Response.json((await work()) ?? { ok: true }, { status });
  } catch (error) {
    if (isProblem(error)) {
      const { message, fields, code } = error;
      return Response.json({ error: { message, fields, code } }, { status: error.status });
    }
    log.error(error);
    const message = "Nerrit failed on this request; its log has the details. Nothing was changed.";
    return Response.json({ error: { message, fields: [], code: null } }, { status: 500 });
  }
}

/**
 * Reads a request's body as text.
 *
 * @param limit the most it may hold, bytes
 * @throws Problem where it is larger
 */
export async function readText(request: Request, limit: number): Promise<string> {
  const tooLarge = new Problem(413, `The request is larger than ${limit / 1024} KiB.`);
  if (Number(request.headers.get("content-length") ?? 0) > limit) throw tooLarge;
  const text = await request.text();
  if (text.length > limit) throw tooLarge;
  return text;
}

/**
 * Reads a request's body as JSON.
 *
 * @throws Problem where it is too large or is no JSON
 */
export async function readJson(request: Request): Promise<unknown> {
  const text = await readText(request, BODY_LIMIT);
  try {
    return JSON.parse(text);
  } catch {
    throw new Problem(400, "The request's body is not JSON.");
  }
}

/** A route's parameters, as Next hands them over. */
export type Params<Names extends string> = { params: Promise<Record<Names, string>> };
