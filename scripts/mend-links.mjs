/**
 * The made-up systems have symbolic links, as the kernel's own trees have. A checkout or an archive
 * that knows no links holds each as a small file with the link's target in it: those are put right.
 */
import { existsSync, lstatSync, readdirSync, readFileSync, symlinkSync, unlinkSync } from "node:fs";
import path from "node:path";

/** Longer than any target of a link there. */
const LONGEST = 300;

/** Makes links of all files below a folder that only hold a link's target; attributes end with a line end. */
export function mendLinks(folder) {
  if (!existsSync(folder)) return;
  for (const entry of readdirSync(folder, { withFileTypes: true })) {
    const full = path.join(folder, entry.name);
    if (entry.isDirectory()) mendLinks(full);
    else if (entry.isFile() && lstatSync(full).size < LONGEST) {
      const text = readFileSync(full, "utf8");
      if (!/^\.\.\/[^\n\0]+$/.test(text)) continue;
      unlinkSync(full);
      symlinkSync(text, full);
    }
  }
}
