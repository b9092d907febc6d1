/** What a route answers when it cannot do what was asked. */
export interface Refused {
  message: string;
  fields: { path: string; message: string }[];
  code: string | null;
}

export type Sent<T> = { ok: true; data: T } | { ok: false; error: Refused };

/** By what a request that takes long is followed, and stopped. */
export interface Following {
  headers?: Record<string, string>;
  signal?: AbortSignal;
}

/** Sends JSON to one of Nerrit's own routes; never throws. */
export const send = <T = unknown>(
  method: "GET" | "POST" | "PUT" | "PATCH" | "DELETE",
  url: string,
  body?: unknown,
  more: Following = {},
): Promise<Sent<T>> =>
  deliver(url, {
    method,
    headers: { "Content-Type": "application/json", ...more.headers },
    body: body === undefined ? undefined : JSON.stringify(body),
    signal: more.signal,
  });

/** Sends the text of a file; never throws. */
export const sendText = <T = unknown>(url: string, text: string): Promise<Sent<T>> =>
  deliver(url, { method: "POST", headers: { "Content-Type": "text/plain" }, body: text });

/** Sends a file as it is; never throws. */
export const sendBytes = <T = unknown>(
  url: string,
  file: Blob,
  more: Following = {},
): Promise<Sent<T>> =>
  deliver(url, {
    method: "POST",
    headers: { "Content-Type": "application/octet-stream", ...more.headers },
    body: file,
    signal: more.signal,
  });

async function deliver<T>(url: string, request: RequestInit): Promise<Sent<T>> {
  try {
    const response = await fetch(url, request);
    const data = await response.json();
    return response.ok ? { ok: true, data } : { ok: false, error: data.error };
  } catch {
    if (request.signal?.aborted)
      return { ok: false, error: { message: "Stopped.", fields: [], code: "stopped" } };
    const message = "Nerrit's server does not answer. Is it still running? Nothing was lost here.";
    return { ok: false, error: { message, fields: [], code: null } };
  }
}

/** A route that could not do what was asked, as queries and mutations fail. */
export class RefusedError extends Error {
  constructor(readonly refused: Refused) {
    super(refused.message, { cause: refused.code });
  }
}

/** What was sent, for a query or a mutation. @throws RefusedError with the route's words */
export async function orThrow<T>(sent: Promise<Sent<T>>): Promise<T> {
  const answer = await sent;
  if (!answer.ok) throw new RefusedError(answer.error);
  return answer.data;
}
