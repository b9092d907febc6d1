import fs from "node:fs/promises";
import path from "node:path";
import * as z from "zod";
import type { Ballast } from "@/core/ballast/ballast";
import { BALLAST_FOLDER, FillLevel } from "@/core/ballast/ballast";

/** In every folder of ballast: who made it, and for which level. */
export const BALLAST_MARKER = "made-by-nerrit.json";
const OURS = /^ballast-\d{5}$/;

/** What the marker says; nothing else than these files is ever removed. */
export const Marker = z.object({
  madeBy: z.literal("Nerrit"),
  what: z.string(),
  level: FillLevel.nullable(),
});
export type Marker = z.infer<typeof Marker>;

/** What a marker takes up, blanks and all. */
export const MARKER_BYTES = 1024;

/**
 * The ballast in a folder of ballast.
 *
 * @param folder the folder of the ballast itself; one that is held open by the kernel's name of its handle
 * @returns null where there is none: no folder, a link, or one without the marker
 */
export async function ballastIn(
  folder: string,
): Promise<(Ballast & { files: { name: string; bytes: number }[] }) | null> {
  const marker = await markerIn(folder);
  if (!marker) return null;
  const files: { name: string; bytes: number }[] = [];
  for (const name of (await fs.readdir(folder)).toSorted()) {
    if (!OURS.test(name)) continue;
    const stat = await fs
      .lstat(path.join(/* turbopackIgnore: true */ folder, name))
      .catch(() => null);
    if (stat?.isFile()) files.push({ name, bytes: stat.size });
  }
  const bytes = files.reduce((sum, file) => sum + file.bytes, 0);
  return { bytes, level: marker.level, files };
}

async function markerIn(folder: string): Promise<Marker | null> {
  try {
    const flags = fs.constants.O_RDONLY | fs.constants.O_NOFOLLOW;
    const file = await fs.open(
      path.join(/* turbopackIgnore: true */ folder, BALLAST_MARKER),
      flags,
    );
    try {
      const page = Buffer.alloc(MARKER_BYTES);
      const { bytesRead } = await file.read(page, 0, MARKER_BYTES, 0);
      return Marker.parse(JSON.parse(page.toString("utf8", 0, bytesRead)));
    } finally {
      await file.close();
    }
  } catch {
    return null;
  }
}

/**
 * The ballast on the file system of a target, as far as it lies on the way from the target up to where the
 * file system is mounted.
 *
 * @param target absolute path of a directory
 * @param mount where its file system is mounted; null looks into the target alone
 */
export async function ballastAbove(target: string, mount: string | null): Promise<Ballast | null> {
  const found: Ballast[] = [];
  for (let at = target; ; at = path.dirname(at)) {
    const here = await ballastIn(path.join(/* turbopackIgnore: true */ at, BALLAST_FOLDER));
    if (here) found.push(here);
    if (mount === null || at === mount || at === path.dirname(at)) break;
  }
  const [first, other] = found;
  if (!first) return null;
  const bytes = found.reduce((sum, one) => sum + one.bytes, 0);
  return { bytes, level: other ? null : first.level };
}
