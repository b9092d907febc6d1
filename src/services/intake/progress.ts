const shared = globalThis as { nerritIntakeAt?: Map<string, string> };

/** What each large input that is being taken in is at, by the token that its sender gave it. */
const at = (shared.nerritIntakeAt ??= new Map<string, string>());

/** The header by which a sender names an input that it wants to follow. */
export const TOKEN = "x-nerrit-intake";
const TOKEN_FORM = /^[\w-]{8,64}$/;

/** What an input is at, in words; null where there is none such. */
export const intakeAt = (token: string): string | null => at.get(token) ?? null;

/** Follows one input from its request on, for as long as the work on it goes on. */
export async function followed<T>(
  request: Request,
  work: (tell: (words: string) => void) => Promise<T>,
): Promise<T> {
  const token = request.headers.get(TOKEN);
  if (!token || !TOKEN_FORM.test(token)) return work(() => undefined);
  try {
    return await work((words) => at.set(token, words));
  } finally {
    at.delete(token);
  }
}
