import type { BackupKind, Contents } from "@/core/backup/backup";
import { counted } from "@/core/units/counted";

/** Why a backup was made, as its list says it. */
export const WHY: Readonly<Record<BackupKind, string>> = {
  "by-hand": "by hand",
  daily: "daily",
  "before-update": "before an update of Nerrit",
  "before-restore": "before another was restored",
};

/** What a backup holds, in a few words. */
export const holds = ({ studies, runs }: Contents): string =>
  `${counted(studies, "study", "studies")}, ${counted(runs, "run")}`;
