import * as z from "zod";
import { absolutePath } from "../units/text";

/** Why a backup was made. */
export const BackupKind = z.enum(["by-hand", "daily", "before-update", "before-restore"]);
export type BackupKind = z.infer<typeof BackupKind>;

const count = z.number().int().nonnegative();

/** What a database holds, in figures by which two of them are told apart. */
export const Contents = z.object({
  studies: count,
  rigs: count,
  parts: count,
  runs: count,
  /** When the latest run began; null where there is none. */
  latestRun: z.string().nullable(),
});
export type Contents = z.infer<typeof Contents>;

/** A backup, as its file's name and the notes beside it say. */
export const Backup = z.object({
  /** The file's name. */
  name: z.string(),
  kind: BackupKind,
  at: z.string(),
  bytes: count,
  /** As it was found when the backup was checked; null where there are no notes beside it. */
  contents: Contents.nullable(),
});
export type Backup = z.infer<typeof Backup>;

const kept = (most: number) => z.number().int().min(0).max(most, `at most ${most}`);

/** Where backups go, and how many of the daily ones are kept. */
export const BackupSettings = z.object({
  daily: z.boolean(),
  /** Null: the folder "backups" beside the database. */
  folder: absolutePath("name a folder").nullable(),
  days: kept(366),
  weeks: kept(520),
  months: kept(600),
});
export type BackupSettings = z.infer<typeof BackupSettings>;

export const USUAL_BACKUPS: BackupSettings = {
  daily: true,
  folder: null,
  days: 7,
  weeks: 4,
  months: 12,
};

/** All that the page of backups shows. */
export const BackupsView = z.object({
  settings: BackupSettings,
  /** Where they lie. */
  folder: z.string(),
  /** The latest first. */
  backups: z.array(Backup),
  /** Why the latest daily one could not be made; null where it could. */
  trouble: z.string().nullable(),
  /** When the next daily one is due; null where there is none. */
  next: z.string().nullable(),
  /** Whether one is being made now. */
  isMaking: z.boolean(),
});
export type BackupsView = z.infer<typeof BackupsView>;

/** What would be replaced, and by what. */
export const Replacement = z.object({ now: Contents, then: Contents, backup: Backup });
export type Replacement = z.infer<typeof Replacement>;

const NAME = /^nerrit-(\d{4})(\d\d)(\d\d)T(\d\d)(\d\d)(\d\d)Z-([a-z-]+)\.sqlite$/;

/** How a backup's file is called: its moment to the second (UTC), and why it was made. */
export const backupName = (kind: BackupKind, at: string): string =>
  `nerrit-${at.slice(0, 19).replaceAll(/[-:]/g, "")}Z-${kind}.sqlite`;

/** What a file's name says of a backup; null for any other file. */
export function fromName(name: string): Pick<Backup, "name" | "kind" | "at"> | null {
  const [, year, month, day, hour, minute, second, why] = NAME.exec(name) ?? [];
  const kind = BackupKind.safeParse(why);
  if (!kind.success) return null;
  const at = `${year}-${month}-${day}T${hour}:${minute}:${second}.000Z`;
  return { name, kind: kind.data, at };
}
