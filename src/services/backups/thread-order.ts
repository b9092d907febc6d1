import type { Contents } from "@/core/backup/backup";

/** What a thread does with a database, all of which it has to read. */
export type BackupOrder =
  { do: "back up"; from: string; to: string } | { do: "look"; file: string; migrations: string };

/** What it says in the end. */
export type BackupSaid = { contents: Contents } | { problem: string };
