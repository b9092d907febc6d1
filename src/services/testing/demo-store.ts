import fs from "node:fs";
import path from "node:path";
import { openStore, type Store } from "@/store/database";
import { seedDemo } from "../studies/demo";

/**
 * A database with the sample studies. Making their runs takes seconds: within npm test they are made
 * once, and copied.
 *
 * @param folder where it lies; nothing that is open at the time
 */
export function openDemo(folder: string): Store {
  const scratch = process.env.NERRIT_SCRATCH;
  const made = scratch ? path.join(scratch, "demo.sqlite") : null;
  if (made && fs.existsSync(made)) {
    fs.copyFileSync(made, path.join(folder, "nerrit.sqlite"));
    return openStore(folder);
  }
  const store = openStore(folder);
  seedDemo(store);
  if (made) {
    const part = `${made}.${process.pid}`;
    store.$client.prepare("vacuum into ?").run(part);
    fs.renameSync(part, made);
  }
  return store;
}
