/** What a route answers when it cannot do what was asked. */
export interface Refused {
  message: string;
  fields: { path: string; message: string }[];
  code: string | null;
}

export type Sent<T> = { ok: true; data: T } | { ok: false; error: Refused };

/** Sends JSON to one of Nerrit's own routes; never throws. */
export async function send<T = unknown>(
  method: "POST" | "PUT" | "PATCH" | "DELETE",
  url: string,
  body?: unknown,
): Promise<Sent<T>> {
  try {
    const response = await fetch(url, {
      method,
      headers: { "Content-Type": "application/json" },
      body: body === undefined ? undefined : JSON.stringify(body),
    });
    const data = await response.json();
    return response.ok ? { ok: true, data } : { ok: false, error: data.error };
  } catch {
    const message = "Nerrit's server does not answer. Is it still running? Nothing was lost here.";
    return { ok: false, error: { message, fields: [], code: null } };
  }
}
