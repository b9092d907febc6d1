import fs from "node:fs";
import path from "node:path";
import { takeLock } from "./lock";
import { StoreProblem } from "./store-problem";

/** Who works with a data folder. */
interface Owner {
  pid: number;
  /** Where its pages are; null where it has none. */
  address: string | null;
  since: string;
}

/**
 * Makes this process the only owner of a data folder, for as long as the process lives.
 *
 * @param address where the pages of this process are, for whoever comes second
 * @returns gives the folder free again
 * @throws StoreProblem that says who has it
 */
export function ownFolder(folder: string, address: string | null): () => void {
  const own = (name: string) => path.join(/* turbopackIgnore: true */ folder, name);
  const [lock, said] = [own("owner.lock"), own("owner.json")];
  const free = takeLock(lock);
  if (!free)
    throw new StoreProblem(
      `The data folder ${folder} is in use by ${ownerWords(said)}. End that process, or name another folder with NERRIT_DATA.`,
    );
  const owner: Owner = { pid: process.pid, address, since: new Date().toISOString() };
  try {
    fs.writeFileSync(said, JSON.stringify(owner), { mode: 0o600 });
  } catch {
    // The lock holds without its label; the store itself says when nothing can be written.
  }
  return () => {
    fs.rmSync(said, { force: true });
    free();
  };
}

function ownerWords(file: string): string {
  try {
    const { pid, address, since } = JSON.parse(fs.readFileSync(file, "utf8")) as Owner;
    const where = address ? ` at ${address}` : "";
    return `another Nerrit${where}, process ${pid}, since ${since.slice(0, 16).replace("T", " ")} UTC`;
  } catch {
    return "another Nerrit";
  }
}
