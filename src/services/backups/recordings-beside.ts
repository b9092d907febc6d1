import fs from "node:fs";
import path from "node:path";

const FOLDER = "recordings";

/**
 * Copies the recordings that are in one folder's "recordings" and not in the other's; none ever changes. Each is there
 * whole or not at all.
 *
 * @throws where one cannot be copied
 */
export async function copyRecordings(from: string, to: string): Promise<void> {
  const [source, target] = [from, to].map((folder) =>
    path.join(/* turbopackIgnore: true */ folder, FOLDER),
  ) as [string, string];
  if (!fs.existsSync(/* turbopackIgnore: true */ source)) return;
  fs.mkdirSync(/* turbopackIgnore: true */ target, { recursive: true, mode: 0o700 });
  const there = new Set(fs.readdirSync(/* turbopackIgnore: true */ target));
  for (const entry of fs.readdirSync(/* turbopackIgnore: true */ source, { withFileTypes: true })) {
    if (!entry.isFile() || there.has(entry.name) || entry.name.endsWith(".part")) continue;
    const file = path.join(/* turbopackIgnore: true */ target, entry.name);
    await fs.promises.copyFile(
      /* turbopackIgnore: true */ path.join(/* turbopackIgnore: true */ source, entry.name),
      `${file}.part`,
      fs.constants.COPYFILE_FICLONE,
    );
    await fs.promises.rename(/* turbopackIgnore: true */ `${file}.part`, file);
  }
}
