const all = new WeakMap<object, Map<string, unknown>>();

/** Answers that are kept of one thing at most: whoever asks more is answered anew. */
const MOST = 64;

/**
 * What was worked out of something already, or works it out: for what is asked again and again until
 * something is written.
 *
 * @param of what it is worked out of; what is kept goes with it
 * @param key what is asked, the same for the same answer
 */
export function remembered<T>(of: object, key: string, work: () => T): T {
  const known = all.get(of) ?? new Map<string, unknown>();
  all.set(of, known);
  if (known.has(key)) return known.get(key) as T;
  const found = work();
  if (known.size >= MOST) known.delete(known.keys().next().value!);
  known.set(key, found);
  return found;
}
