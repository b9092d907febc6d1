import { randomUUID } from "node:crypto";
import { PartDraft } from "@/core/chain/part";
import type { Store } from "@/store/database";
import * as parts from "@/store/parts";
import { checked, Problem } from "./problem";

/** Enters a part. @returns its id. @throws Problem naming each field that is wrong */
export function addPart(store: Store, input: unknown): string {
  const draft = checked(PartDraft, input);
  const id = randomUUID();
  parts.insertPart(store, id, draft, new Date().toISOString());
  return id;
}

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
  parts.updatePart(store, id, draft);
}

/** Takes a part off the shelf, or puts it back. */
export function retire(store: Store, id: string, retired: boolean): void {
  const at = retired ? new Date().toISOString() : null;
  if (!parts.retirePart(store, id, at)) throw new Problem(404, "There is no such part.");
}

export const shelf = (store: Store) => parts.listParts(store);
