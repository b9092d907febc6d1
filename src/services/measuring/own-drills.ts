import { randomUUID } from "node:crypto";
import { defineFrom, type OwnDrill } from "@/core/drills/drill";
import type { Store } from "@/store/database";
import * as rows from "@/store/own-drills";
import { checkedBy, Problem } from "../problem";
import { TOLD_DRILLS } from "../removed/lists";
import { noteMissing } from "../removed/note";

/** The tester's own drills, the oldest first. */
export const ownDrills = (store: Store): OwnDrill[] => rows.listOwnDrills(store);

/**
 * Keeps a drill by its name. Runs keep the exact definition they used, so that nothing that is done
 * here changes an old run.
 *
 * @returns its id
 * @throws Problem where it makes no sense, or another one is called so
 */
export function keepDrill(store: Store, input: unknown): string {
  const drill = checkedBy(() => defineFrom(input, null));
  if (!drill.title) throw refused("give the drill a name");
  if (ownDrills(store).some((own) => own.drill.title === drill.title)) {
    throw refused(`there is a drill called “${drill.title}” already`);
  }
  const id = randomUUID();
  store.transaction(() => {
    rows.insertOwnDrill(store, id, drill, new Date().toISOString());
    noteMissing(store, TOLD_DRILLS, [], [drill]);
  });
  return id;
}

const refused = (message: string) =>
  new Problem(422, `title: ${message}`, [{ path: "title", message }]);

/** Takes a drill off the list. @throws Problem 404 */
export function dropDrill(store: Store, id: string): void {
  const own = ownDrills(store).find((one) => one.id === id);
  if (!own) throw new Problem(404, "There is no such drill.");
  store.transaction(() => {
    rows.deleteOwnDrill(store, id);
    noteMissing(store, TOLD_DRILLS, [own.drill], []);
  });
}
