import { and, asc, count, eq, inArray, sql } from "drizzle-orm";
import type { Part, PartDraft } from "@/core/chain/part";
import type { Store } from "./store";
import { parts } from "./schema";

/** A part with its place on the shelf. */
export type ShelvedPart = Part & { retired: boolean; demo: boolean };

/** Which parts: the tester's own, the sample data's, or both. */
export type Gear = "own" | "sample" | "all";

type Row = typeof parts.$inferSelect;
/** What parts entered before these fields were known lack. */
const NEWER = {
  serial: "",
  requestUs: {},
  cacheBytes: null,
  chip: "",
  firmware: "",
  lengthM: null,
  enduranceBytes: null,
  photos: [],
};

const toPart = (row: Row): ShelvedPart => ({
  ...NEWER,
  ...row.spec,
  id: row.id,
  retired: row.retiredAt !== null,
  demo: row.demo,
});

/**
 * The shelf as last read, until something on it changes: reading thousands of parts takes a while. The
 * server may hold this module twice, for its pages and for its routes: both must know of a change.
 */
const shared = globalThis as typeof globalThis & {
  nerritShelf?: WeakMap<Store, readonly ShelvedPart[]>;
};
const read = (shared.nerritShelf ??= new WeakMap());

/** Every part, the oldest first. */
export function listParts(store: Store): readonly ShelvedPart[] {
  const known = read.get(store);
  if (known) return known;
  const rows = store.select().from(parts).orderBy(asc(parts.createdAt), asc(parts.id)).all();
  const found = rows.map(toPart);
  read.set(store, found);
  return found;
}

/**
 * A stretch of the parts in whose kind, name, maker, model, tag or serial number all words stand, by
 * kind and name; of one kind where that is asked for.
 *
 * @returns the stretch, and how many answer in all
 */
export function searchParts(
  store: Store,
  words: readonly string[],
  { kind, gear }: { kind: string | null; gear: Gear },
  limit: number,
  offset: number,
): { parts: ShelvedPart[]; total: number } {
  const entry = sql`concat_ws(' ', replace(${parts.kind}, '-', ' '), ${parts.name},
    ${parts.spec} ->> 'maker', ${parts.spec} ->> 'model', ${parts.spec} ->> 'tag',
    ${parts.spec} ->> 'serial')`;
  // The wildcards of LIKE stand for themselves in what is sought.
  const literal = (word: string) => `%${word.replace(/[\\%_]/g, "\\$&")}%`;
  const where = and(
    ...words.map((word) => sql`${entry} like ${literal(word)} escape '\\'`),
    kind === null ? undefined : eq(parts.kind, kind),
    gear === "all" ? undefined : eq(parts.demo, gear === "sample"),
  );
  const found = store
    .select()
    .from(parts)
    .where(where)
    .orderBy(asc(parts.kind), sql`natural_key(${parts.name})`, asc(parts.id))
    .limit(limit)
    .offset(offset)
    .all();
  const total = store.select({ n: count() }).from(parts).where(where).get()!.n;
  return { parts: found.map(toPart), total };
}

export function getParts(store: Store, ids: readonly string[]): Map<string, ShelvedPart> {
  const rows = store
    .select()
    .from(parts)
    .where(inArray(parts.id, [...ids]))
    .all();
  return new Map(rows.map((row) => [row.id, toPart(row)]));
}

/** @param demo whether it belongs to the sample data */
export function insertPart(
  store: Store,
  id: string,
  draft: PartDraft,
  at: string,
  demo = false,
): void {
  read.delete(store);
  const { kind, name } = draft;
  store.insert(parts).values({ id, kind, name, spec: draft, createdAt: at, demo }).run();
}

/** The sample data's parts. */
export const demoParts = (store: Store): string[] =>
  listParts(store)
    .filter(({ demo }) => demo)
    .map(({ id }) => id);

export const countParts = (store: Store): number => listParts(store).length;

/** Takes parts out of the database for good: only what nothing rests on. */
export function deleteParts(store: Store, ids: readonly string[]): void {
  read.delete(store);
  store
    .delete(parts)
    .where(inArray(parts.id, [...ids]))
    .run();
}

export function updatePart(store: Store, id: string, draft: PartDraft): boolean {
  read.delete(store);
  const { kind, name } = draft;
  const result = store.update(parts).set({ kind, name, spec: draft }).where(eq(parts.id, id)).run();
  return result.changes > 0;
}

/** Takes a part off the shelf or puts it back; runs made with it keep it either way. */
export function retirePart(store: Store, id: string, at: string | null): boolean {
  read.delete(store);
  return store.update(parts).set({ retiredAt: at }).where(eq(parts.id, id)).run().changes > 0;
}
