import path from "node:path";
import type { Command } from "commander";
import { compareWithBench, restoreBench } from "@/services/backups/by-command";
import { Failure, printJson } from "../exit";
import { contentsText } from "./backup";
import { plainly } from "./plainly";

/** `nerrit restore`: a backup in the place of what is there, which is shown first and kept. */
export function addRestore(program: Command): void {
  program
    .command("restore")
    .description("put a backup in the place of what Nerrit has now, also on a new machine")
    .argument("<file>", "the backup")
    .option("--yes", "do it; without this only what would be replaced is shown")
    .option("--json", "print one JSON document")
    .action(async (given: string, { yes, json }: { yes?: boolean; json?: boolean }) => {
      const file = path.resolve(given);
      const { folder, now, then } = await plainly(() => compareWithBench(file));
      const kept = yes ? await plainly(() => restoreBench(file)) : null;
      if (json) return printJson({ folder, now, then, restored: yes === true, kept });
      const lines = [
        `In ${folder} now: ${now ? contentsText(now) : "nothing that can be read"}.`,
        `In the backup: ${contentsText(then)}.`,
      ];
      if (yes) lines.push("Restored.", ...(kept ? [`What was there is kept as ${kept}.`] : []));
      process.stdout.write(`${lines.join("\n")}\n`);
      if (!yes) throw new Failure("nothing was changed; --yes restores the backup");
    });
}
