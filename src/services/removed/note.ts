import { randomUUID } from "node:crypto";
import type { RemovedKind } from "@/core/study/removed";
import type { Store } from "@/store/database";
import { deleteRemovedOf, insertRemoved, type RemovedRow } from "@/store/removed";

/** Notes that something was removed, with what it takes to put it back. */
export const noteRemoved = (store: Store, what: Omit<RemovedRow, "id" | "at">): void =>
  insertRemoved(store, { ...what, id: randomUUID(), at: new Date().toISOString() });

/** Of a list: what each one is called, and what it is, in a line. */
export interface Told<T> {
  kind: RemovedKind;
  /** The study of the list; null for none. */
  studyId: string | null;
  /** What the list belongs to, where that is another thing than the study. */
  within?: string;
  /** The same for the same thing before and after. */
  nameOf: (one: T) => string;
  titleOf: (one: T) => string;
  detailsOf: (one: T) => string;
}

/**
 * Notes what is on a list no more, each with its place, and forgets what is on it again. A thing that was only
 * changed is neither. To be called in the transaction that changes the list: one is never stored without the other.
 */
export function noteMissing<T>(
  store: Store,
  told: Told<T>,
  before: readonly T[],
  after: readonly T[],
): void {
  const { kind, studyId, within, nameOf, titleOf, detailsOf } = told;
  const keyOf = (one: T) => `${within ?? studyId ?? ""} ${nameOf(one)}`;
  const there = new Set(after.map(keyOf));
  for (const key of there) deleteRemovedOf(store, kind, key);
  for (const [place, value] of before.entries()) {
    if (there.has(keyOf(value))) continue;
    noteRemoved(store, {
      kind,
      of: keyOf(value),
      studyId,
      title: titleOf(value),
      details: detailsOf(value),
      kept: { value, place, within: within ?? null },
    });
  }
}
