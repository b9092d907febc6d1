import path from "node:path";
import type { Command } from "commander";
import type { ArchiveLook } from "@/core/archive/look";
import { ENGINES, declarations, type EngineName } from "@/core/archive/declarations";
import { counted } from "@/core/units/counted";
import { formatSize } from "@/core/units/size";
import { archiveBench } from "@/services/archive/by-command";
import { printJson, Usage } from "../exit";
import { PROGRESS, ProgressLine } from "../progress-line";
import { plainly } from "../system/plainly";

interface Options {
  to: string;
  withSamples?: boolean;
  declare?: string;
  json?: boolean;
  progress?: boolean;
}

/** `nerrit archive`: everything that was measured, as Parquet files that other programs read. */
export function addArchive(program: Command): void {
  program
    .command("archive")
    .description(
      "add all runs that an archive lacks to it, as Parquet files; also while Nerrit runs",
    )
    .requiredOption("--to <folder>", "the archive; made where it is missing")
    .option("--with-samples", "the sample studies too")
    .option(
      "--declare <engine>",
      `write nothing; print the statements that declare the archive's tables to ${ENGINES.join(" or ")}`,
    )
    .option("--progress", PROGRESS)
    .option("--json", "print one JSON document")
    .action(async (options: Options) => {
      const to = path.resolve(options.to);
      if (options.declare !== undefined) {
        process.stdout.write(`${declarations(engineOf(options.declare), to)}\n`);
        return;
      }
      const line = new ProgressLine(options.progress ?? false);
      const { added, archive } = await plainly(() =>
        archiveBench(to, options.withSamples ?? false, ({ done, of }) =>
          line.say(`run ${done} of ${of}`, "runs"),
        ),
      );
      line.clear();
      if (options.json) return printJson({ added, archive });
      process.stdout.write(`${addedWords(added)}\n${lookWords(archive)}\n`);
    });
}

const addedWords = (added: number) =>
  added === 0 ? "No run was missing in the archive." : `${counted(added, "run")} added.`;

/** What an archive holds, in a line. */
const lookWords = ({ runs, samples, parts, hosts, bytes }: ArchiveLook): string =>
  `The archive holds ${counted(runs, "run")} of ${counted(hosts.length, "host")}, ${counted(samples, "sample")} and ${counted(parts, "part")} in ${formatSize(bytes)}.`;

function engineOf(name: string): EngineName {
  const found = ENGINES.find((one) => one === name);
  if (!found) throw new Usage(`--declare: ${name} is neither ${ENGINES.join(" nor ")}`);
  return found;
}
