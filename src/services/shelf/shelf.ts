import { randomUUID } from "node:crypto";
import { PART_KIND_NAMES, PartDraft, type Part, type PartKind } from "@/core/chain/part";
import type { Store } from "@/store/database";
import { benchVersion } from "@/store/version";
import * as parts from "@/store/parts";
import { deleteRemovedOf } from "@/store/removed";
import { getStudy } from "@/store/studies";
import { csvToParts, shelfToCsv } from "@/core/exchange/shelf-csv";
import { asLine, asLines } from "@/core/units/text";
import { ShelfFile } from "@/core/exchange/shelf";
import { refuseIfChanged } from "../changed";
import { checked, isProblem, Problem } from "../problem";
import { toldOfParts } from "../parts/told-of-parts";
import { noteRemoved } from "../removed/note";

/**
 * Enters a part. Where the shelf has another of its kind by the same name, a number behind the name tells
 * them apart.
 *
 * @returns the part as it was entered. @throws Problem naming each field that is wrong
 */
export function enterPart(store: Store, input: unknown): Part {
  const draft = checked(PartDraft, input);
  const id = randomUUID();
  const name = freeName(store, draft);
  parts.insertPart(store, id, { ...draft, name }, new Date().toISOString());
  return { ...draft, id, name };
}

/** Enters a part. @returns its id. @throws Problem naming each field that is wrong */
export const addPart = (store: Store, input: unknown): string => enterPart(store, input).id;

function freeName(store: Store, { kind, name }: Pick<Part, "kind" | "name">): string {
  const taken = new Set(
    parts
      .listParts(store)
      .filter((part) => part.kind === kind && !part.demo && !part.retired)
      .map((part) => part.name),
  );
  if (!taken.has(name)) return name;
  const plain = name.replace(/ \(\d+\)$/, "");
  for (let n = 2; ; n++) {
    const behind = ` (${n})`;
    const other = plain.slice(0, LONGEST_NAME - behind.length) + behind;
    if (!taken.has(other)) return other;
  }
}
const LONGEST_NAME = 80;

/** Kinds of its own that the tester's shelf offers at most. */
const MOST_KINDS = 300;

/** The tester's own parts that another one may be like: the latest of each make. */
export function partsToRepeat(store: Store): Part[] {
  const made = new Map<string, Part>();
  for (const { retired, demo, ...part } of parts.listParts(store)) {
    if (retired || demo) continue;
    const { kind, maker, model, connectors } = part;
    const make = maker || model ? [maker, model] : [part.name];
    made.set(JSON.stringify([kind, make, connectors]), part);
  }
  return [...made.values()].reverse().slice(0, MOST_KINDS);
}

const PART_FIELDS = {
  name: "its name",
  connectors: "its connectors",
  claims: "its claims",
  notes: "its notes",
  limits: "its own rates",
  requestUs: "its request times",
  price: "its price",
  capacityBytes: "its capacity",
  cacheBytes: "its cache",
  serial: "its serial number",
  chip: "its chip",
  firmware: "its firmware",
  lengthM: "its length",
  enduranceBytes: "its rated endurance",
  photos: "its pictures",
};

/** Changes what is said of a part. Runs made before keep what was said then. */
export function changePart(store: Store, id: string, input: unknown): void {
  const draft = checked(PartDraft, input);
  const old = parts.getParts(store, [id]).get(id);
  if (!old) throw new Problem(404, "There is no such part.");
  if (old.kind !== draft.kind) {
    throw new Problem(422, "A part's kind cannot change; enter a new part.", [
      { path: "kind", message: "cannot change" },
    ]);
  }
  refuseIfChanged(input, PartDraft, PartDraft.parse(old), PART_FIELDS);
  parts.updatePart(store, id, draft);
}

/** Takes a part off the shelf, or puts it back. */
export function retire(store: Store, id: string, retired: boolean): void {
  const at = retired ? new Date().toISOString() : null;
  const part = parts.getParts(store, [id]).get(id);
  if (!part) throw new Problem(404, "There is no such part.");
  store.transaction(() => {
    parts.retirePart(store, id, at);
    if (!retired) return deleteRemovedOf(store, "part", id);
    noteRemoved(store, {
      kind: "part",
      of: id,
      studyId: null,
      title: part.name,
      details: `${PART_KIND_NAMES[part.kind]}; rigs and runs keep it`,
      kept: null,
    });
  });
}

/** What is looked for on the shelf, and which page of it. */
export interface ShelfQuery {
  /** Words that must all stand somewhere in a part's entry. */
  sought: string;
  kind: PartKind | null;
  page: number;
  /** The tester's own parts, the sample data's, or both. */
  gear?: parts.Gear;
}

/** Parts on one page of the shelf. */
export const PAGE_SIZE = 100;

/**
 * One page of the shelf, by kind and name, each part with the best that was measured through it, and
 * how many parts answer in all.
 */
export function searchShelf(store: Store, { sought, kind, page, gear = "all" }: ShelfQuery) {
  const words = sought.trim().split(/\s+/).filter(Boolean).slice(0, 8);
  const found = parts.searchParts(store, words, { kind, gear }, PAGE_SIZE, page * PAGE_SIZE);
  const { best } = toldOfParts(store);
  return {
    total: found.total,
    parts: found.parts.map((part) => ({ ...part, measured: best.get(part.id) ?? null })),
  };
}

export const shelf = (store: Store) => parts.listParts(store);

/**
 * The parts that a study's rigs may be made of: sample parts only for the sample studies.
 *
 * @param studyId null for a study that is yet to begin
 */
export function shelfFor(store: Store, studyId: string | null): readonly parts.ShelvedPart[] {
  const sample = studyId !== null && getStudy(store, studyId)?.simulated === true;
  const shelves = (shared.nerritShelves ??= new WeakMap<Store, KeptShelf>());
  const version = benchVersion(store);
  let kept = shelves.get(store);
  if (kept?.version !== version) {
    const all = parts.listParts(store).filter(({ retired }) => !retired);
    kept = { version, all, own: all.filter(({ demo }) => !demo) };
    shelves.set(store, kept);
  }
  return sample ? kept.all : kept.own;
}

/** The shelf as it was read last: read anew when anything was written. */
interface KeptShelf {
  version: string;
  all: readonly parts.ShelvedPart[];
  own: readonly parts.ShelvedPart[];
}
const shared = globalThis as { nerritShelves?: WeakMap<Store, KeptShelf> };

/** The whole shelf as a file; retired parts and sample data are left out. */
export function exportShelf(store: Store, format: "json" | "csv"): string {
  const drafts = parts
    .listParts(store)
    .filter(({ retired, demo }) => !retired && !demo)
    .map((part) => PartDraft.parse(cleaned(part)));
  if (format === "csv") return shelfToCsv(drafts);
  const file: ShelfFile = { format: "nerrit-shelf", version: 1, parts: drafts };
  return `${JSON.stringify(file, null, 2)}\n`;
}

/** A part entered before control characters were refused goes out without them. */
const cleaned = (part: PartDraft): PartDraft => ({
  ...part,
  ...Object.fromEntries(LINES.map((field) => [field, asLine(part[field])])),
  notes: asLines(part.notes),
  // Pictures are not in a shelf's file.
  photos: [],
});
const LINES = ["name", "maker", "model", "serial", "tag", "chip", "firmware"] as const;

/**
 * Adds the parts of a file, all of them or none.
 *
 * @param text JSON as exported, or CSV with a header row
 * @returns how many were added
 * @throws Problem that names the first part and field that are wrong
 */
export function importShelf(store: Store, text: string): number {
  const file = { format: "nerrit-shelf", version: 1, parts: readParts(text) };
  const { parts: drafts } = checked(ShelfFile, file);
  const at = new Date().toISOString();
  store.transaction(() => {
    for (const draft of drafts) parts.insertPart(store, randomUUID(), draft, at);
  });
  return drafts.length;
}

function readParts(text: string): unknown {
  if (/^\s*[{[]/.test(text)) {
    try {
      const read: unknown = JSON.parse(text);
      return checked(ShelfFile, read).parts;
    } catch (error) {
      if (isProblem(error)) throw error;
      throw new Problem(422, "The file begins like JSON but is not.");
    }
  }
  try {
    return csvToParts(text);
  } catch (error) {
    throw new Problem(422, (error as Error).message);
  }
}
