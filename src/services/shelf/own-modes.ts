import { findMode } from "@/core/ledger/catalogue";
import { describedMode, OwnModeDraft, ownModeId } from "@/core/ledger/own-mode";
import type { Store } from "@/store/database";
import { deleteOwnMode, insertOwnMode, listOwnModes } from "@/store/own-modes";
import { checked, Problem } from "../problem";
import { TOLD_MODES } from "../removed/lists";
import { noteMissing } from "../removed/note";

/** Modes that the tester described and wants to choose from. */
export const ownModes = listOwnModes;

/** Takes a tester's own mode into the list. @returns its id. @throws Problem naming what is wrong */
export function addOwnMode(store: Store, input: unknown): string {
  const id = ownModeId(checked(OwnModeDraft, input));
  if (!findMode(id)) throw new Problem(422, "That describes no link that could be computed.");
  insertOwnMode(store, id, new Date().toISOString());
  return id;
}

/** Puts a mode that was taken off the list back, by its id. */
export function restoreOwnMode(store: Store, id: string): void {
  if (!describedMode(id) || !findMode(id)) throw new Problem(422, "That is no mode of your own.");
  store.transaction(() => {
    insertOwnMode(store, id, new Date().toISOString());
    noteMissing(store, TOLD_MODES, [], [id]);
  });
}

/** Takes a mode off the list; parts and runs that name it keep it, since its id describes it. */
export function dropOwnMode(store: Store, id: string): void {
  store.transaction(() => {
    if (!deleteOwnMode(store, id)) throw new Problem(404, "There is no such mode of your own.");
    noteMissing(store, TOLD_MODES, [id], []);
  });
}
