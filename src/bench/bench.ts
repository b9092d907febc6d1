import { dataFolder, openStore, type Store } from "@/store/database";
import packageJson from "../../package.json";
import { seedDemo } from "./demo";
import { Desk } from "./desk";

/** What the application works with: one store and one desk for each server process. */
export interface Bench {
  store: Store;
  desk: Desk;
}

const shared = globalThis as typeof globalThis & { nerritBench?: Bench };

/**
 * The bench of this process; the first call opens the database, seeds the demo study if the
 * database is new, and marks what a crash left unfinished.
 */
export function bench(): Bench {
  if (!shared.nerritBench) {
    const folder = dataFolder();
    const store = openStore(folder);
    const desk = new Desk(store, folder, packageJson.version);
    seedDemo(store);
    desk.recover();
    shared.nerritBench = { store, desk };
  }
  return shared.nerritBench;
}
