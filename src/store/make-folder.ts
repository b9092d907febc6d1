import fs from "node:fs";
import path from "node:path";

/**
 * Makes a folder, for its owner alone, and those that it lies in. One by one: below /proc the runtime's own way of
 * making several tries for ever.
 *
 * @throws the system's error where it cannot be made, or is no folder
 */
export function makeFolder(folder: string): void {
  const missing: string[] = [];
  let at = path.resolve(/* turbopackIgnore: true */ folder);
  while (!fs.existsSync(/* turbopackIgnore: true */ at)) {
    missing.unshift(at);
    at = path.dirname(at);
  }
  for (const one of missing) fs.mkdirSync(/* turbopackIgnore: true */ one, { mode: 0o700 });
  if (!fs.statSync(/* turbopackIgnore: true */ folder).isDirectory())
    throw Object.assign(new Error("it is a file"), { code: "ENOTDIR" });
}
