import fs from "node:fs";
import path from "node:path";
import { Contents, fromName } from "@/core/backup/backup";
import { counted } from "@/core/units/counted";
import { ownBackups } from "./backup";
import { salvage } from "./salvage";

/** Beside the database: where its backups go, for whoever cannot read it any more. */
export const WHERE = "backups.json";

/** What there is where a database cannot be read: what could be saved of it, and the latest backup. In sentences. */
export function whatIsLeft(file: string, migrations: string): string {
  const saved = savedBeside(file, migrations);
  const backup = latestBackup(path.dirname(file));
  const sentences = [
    saved && `What could be read of it is saved in ${saved.file}: ${figures(saved.contents)}.`,
    backup &&
      `The latest backup is ${backup.file}${backup.contents ? `: ${figures(backup.contents)}` : ""}.`,
    saved || backup
      ? `Put one of them in its place with: nerrit restore ${(backup ?? saved)!.file}`
      : "Move it and the files beside it away, and put a copy of it there; without one, start without it and import what was exported.",
  ];
  return sentences.filter(Boolean).join(" ");
}

const figures = ({ studies, runs, latestRun }: Contents): string =>
  `${counted(studies, "study", "studies")}, ${counted(runs, "run")}${latestRun ? `, the latest of ${latestRun.slice(0, 10)}` : ""}`;

/** Saves what can be read, once for a database as it is. */
function savedBeside(
  file: string,
  migrations: string,
): { file: string; contents: Contents } | null {
  const stamp = fs
    .statSync(/* turbopackIgnore: true */ file)
    .mtime.toISOString()
    .slice(0, 19)
    .replaceAll(/[-:]/g, "");
  const to = `${file}.saved-${stamp}Z`;
  const notes = `${to}.json`;
  if (
    fs.existsSync(/* turbopackIgnore: true */ to) &&
    fs.existsSync(/* turbopackIgnore: true */ notes)
  )
    return {
      file: to,
      contents: Contents.parse(
        JSON.parse(fs.readFileSync(/* turbopackIgnore: true */ notes, "utf8")),
      ),
    };
  const contents = salvage(file, to, migrations);
  if (!contents) return null;
  fs.writeFileSync(/* turbopackIgnore: true */ notes, JSON.stringify(contents), { mode: 0o600 });
  return { file: to, contents };
}

function latestBackup(folder: string): { file: string; contents: Contents | null } | null {
  const found = [ownBackups(folder), ...namedFolder(folder)]
    .flatMap((one) =>
      fs.existsSync(/* turbopackIgnore: true */ one)
        ? fs.readdirSync(/* turbopackIgnore: true */ one).map((name) => ({ one, name }))
        : [],
    )
    .filter(({ name }) => fromName(name))
    .toSorted((a, b) => (a.name < b.name ? 1 : -1))[0];
  if (!found) return null;
  const file = path.join(/* turbopackIgnore: true */ found.one, found.name);
  try {
    return {
      file,
      contents: Contents.parse(
        JSON.parse(fs.readFileSync(/* turbopackIgnore: true */ `${file}.json`, "utf8")),
      ),
    };
  } catch {
    return { file, contents: null };
  }
}

/** The folder that the tester has named for backups. */
function namedFolder(folder: string): string[] {
  try {
    const file = path.join(/* turbopackIgnore: true */ folder, WHERE);
    const { folder: named } = JSON.parse(
      fs.readFileSync(/* turbopackIgnore: true */ file, "utf8"),
    ) as { folder: unknown };
    return typeof named === "string" ? [named] : [];
  } catch {
    return [];
  }
}
