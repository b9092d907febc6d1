import fs from "node:fs/promises";
import path from "node:path";
import type { MixEntry } from "@/core/run/program";
import { seeded } from "@/core/simulate/noise";

/** A file to copy: its place below the folder, and its size. */
export interface CopyFile {
  name: string;
  bytes: number;
}

/** Files in one folder of a made-up tree; more in one directory measure the directory. */
const IN_A_FOLDER = 200;

/** The files of a stated mix, in an order that the seed decides: sizes come mixed, as they do in life. */
export function filesOfMix(mix: readonly MixEntry[], seed: number): CopyFile[] {
  const sizes = mix.flatMap(({ files, bytes }) => Array.from({ length: files }, () => bytes));
  const random = seeded(seed);
  for (let i = sizes.length - 1; i > 0; i--) {
    const j = Math.floor(random() * (i + 1));
    [sizes[i], sizes[j]] = [sizes[j]!, sizes[i]!];
  }
  const digits = (value: number, places: number) => String(value).padStart(places, "0");
  return sizes.map((bytes, i) => ({
    name: path.join(`folder-${digits(Math.floor(i / IN_A_FOLDER), 3)}`, `file-${digits(i, 6)}.bin`),
    bytes,
  }));
}

/** What was found in a folder, and what was passed over. */
export interface Found {
  files: CopyFile[];
  passedOver: number;
}

/** Every plain file below a folder, in order of names; links and special files are passed over. */
export async function filesBelow(folder: string, skip: (name: string) => boolean): Promise<Found> {
  const found: Found = { files: [], passedOver: 0 };
  const walk = async (below: string): Promise<void> => {
    const entries = await fs.readdir(path.join(folder, below), { withFileTypes: true });
    for (const entry of entries.toSorted((a, b) => (a.name < b.name ? -1 : 1))) {
      const name = path.join(below, entry.name);
      if (skip(entry.name)) continue;
      if (entry.isDirectory()) await walk(name);
      else if (entry.isFile()) {
        found.files.push({ name, bytes: (await fs.lstat(path.join(folder, name))).size });
      } else found.passedOver += 1;
    }
  };
  await walk("");
  return found;
}
