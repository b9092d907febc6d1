import path from "node:path";
import type { Command } from "commander";
import type { Contents } from "@/core/backup/backup";
import { counted } from "@/core/units/counted";
import { backUpBench } from "@/services/backups/by-command";
import { printJson } from "../exit";
import { plainly } from "./plainly";

/** `nerrit backup`: everything that the bench holds, while it is worked with. */
export function addBackup(program: Command): void {
  program
    .command("backup")
    .description("back up studies, parts and runs, also while Nerrit runs")
    .option("--to <folder>", "where to (default: the folder backups beside the database)")
    .option("--json", "print one JSON document")
    .action(async ({ to, json }: { to?: string; json?: boolean }) => {
      const made = await plainly(() => backUpBench(to === undefined ? null : path.resolve(to)));
      if (json) return printJson(made);
      process.stdout.write(`${made.file}\n${contentsText(made.contents)}\n`);
    });
}

/** What a database holds, in a line. */
export const contentsText = ({ studies, rigs, parts, runs, latestRun }: Contents): string =>
  [
    counted(studies, "study", "studies"),
    counted(rigs, "rig"),
    counted(parts, "part"),
    counted(runs, "run"),
    latestRun ? `the latest of ${latestRun.slice(0, 16).replace("T", " ")} UTC` : "none yet",
  ].join(", ");
