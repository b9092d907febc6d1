import fs from "node:fs";
import path from "node:path";

const FOLDER = "recordings";

/**
 * Copies the recordings that are in one folder's "recordings" and not in the other's. Each is there whole or not at all.
 *
 * @param also whether those are copied again that have grown since: of what was being recorded there is a part only
 * @throws where one cannot be copied
 */
export async function copyRecordings(
  from: string,
  to: string,
  also: "what has grown" | "nothing else",
): Promise<void> {
  const [source, target] = [from, to].map((folder) =>
    path.join(/* turbopackIgnore: true */ folder, FOLDER),
  ) as [string, string];
  if (!fs.existsSync(/* turbopackIgnore: true */ source)) return;
  fs.mkdirSync(/* turbopackIgnore: true */ target, { recursive: true, mode: 0o700 });
  const sizeIn = (folder: string, name: string) =>
    fs.statSync(path.join(/* turbopackIgnore: true */ folder, name), { throwIfNoEntry: false })
      ?.size ?? -1;
  for (const entry of fs.readdirSync(/* turbopackIgnore: true */ source, { withFileTypes: true })) {
    if (!entry.isFile() || entry.name.endsWith(".part")) continue;
    const there = sizeIn(target, entry.name);
    if (there >= 0 && also === "nothing else") continue;
    if (there >= sizeIn(source, entry.name)) continue;
    const file = path.join(/* turbopackIgnore: true */ target, entry.name);
    await fs.promises.copyFile(
      /* turbopackIgnore: true */ path.join(/* turbopackIgnore: true */ source, entry.name),
      `${file}.part`,
      fs.constants.COPYFILE_FICLONE,
    );
    await fs.promises.rename(/* turbopackIgnore: true */ `${file}.part`, file);
  }
}
