import { log } from "@/services/log";
import { services } from "@/services/services";
import { isProblem, isStoreFault, Problem, storeProblem } from "@/services/problem";
import { formatSize } from "@/core/units/size";

/** The most a request may say, bytes. */
const BODY_LIMIT = 256 * 1024;

/** The most a log may hold, bytes: a day of a line a tenth of a second, and more. */
export const LOG_LIMIT = 64 * 1024 * 1024;

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
    if (isStoreFault(error)) {
      services().desk.keeper.failed(error);
      return respond(() => {
        throw storeProblem(error);
      });
    }
    log.error(error);
    const message = "Nerrit failed on this request; its log has the details. Nothing was changed.";
    return Response.json({ error: { message, fields: [], code: null } }, { status: 500 });
  }
}

/**
 * Reads a request's body, all of it or not at all.
 *
 * @param limit the most it may hold, bytes
 * @throws Problem where it is larger, or arrived in part only
 */
export async function readBytes(request: Request, limit: number): Promise<Uint8Array> {
  const tooLarge = () =>
    new Problem(413, `The request is larger than ${formatSize(limit)}. Nothing was changed.`);
  const length = request.headers.get("content-length");
  if (Number(length ?? 0) > limit) throw tooLarge();
  const chunks: Uint8Array[] = [];
  let bytes = 0;
  for await (const chunk of request.body ?? []) {
    bytes += chunk.length;
    if (bytes > limit) throw tooLarge();
    chunks.push(chunk);
  }
  if (length !== null && bytes !== Number(length)) {
    const words = `Only ${bytes} of the ${length} bytes that were announced have arrived`;
    throw new Problem(400, `${words}. Nothing was changed; send it again.`);
  }
  return Buffer.concat(chunks);
}

/**
 * Reads a request's body as text, all of it or not at all.
 *
 * @param limit the most it may hold, bytes
 * @throws Problem where it is larger, arrived in part only, or is no text
 */
export async function readText(request: Request, limit: number): Promise<string> {
  const bytes = await readBytes(request, limit);
  try {
    return new TextDecoder("utf-8", { fatal: true }).decode(bytes);
  } catch {
    throw new Problem(400, "The request is not text in UTF-8. Nothing was changed.");
  }
}

/**
 * Reads a request's body as JSON.
 *
 * @param limit the most it may hold, bytes
 * @throws Problem where it is too large or is no JSON
 */
export async function readJson(request: Request, limit = BODY_LIMIT): Promise<unknown> {
  const text = await readText(request, limit);
  try {
    return JSON.parse(text);
  } catch {
    throw new Problem(400, "The request's body is not JSON.");
  }
}

/** A route's parameters, as Next hands them over. */
export type Params<Names extends string> = { params: Promise<Record<Names, string>> };
