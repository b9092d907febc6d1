import path from "node:path";
import type { Command } from "commander";
import { thisMachine } from "@/services/hosts/machines";
import { askSystem } from "@/services/plugged/system";
import type { SystemReport } from "@/core/system/system-report";
import { reportLines } from "@/core/system/system-words";
import { Failure, printJson } from "../exit";
import { ON, placeOn, readyOn, systemOn } from "../on-host";

interface Options {
  root?: string;
  json?: boolean;
  on?: string;
}

/** `nerrit probe`: the chain from host to drive as the operating system knows it. */
export function addProbe(program: Command): void {
  program
    .command("probe")
    .description("say what the system knows of the way to a directory or block device")
    .argument("<path>", "directory on the drive, or block device")
    .option("--root <directory>", "read the kernel's tree (sys, proc) below this directory")
    .option("--on <host>", ON)
    .option("--json", "print one JSON document")
    .action(async (target: string, options: Options) => {
      const { host, path: there } = placeOn(target, options.on);
      const report =
        host === null ? await ask(there, options.root) : await systemOn(await readyOn(host), there);
      if (options.json) printJson(report);
      else process.stdout.write(`${reportLines(report).join("\n")}\n`);
    });
}

async function ask(target: string, root: string | undefined): Promise<SystemReport> {
  try {
    return await askSystem({ path: path.resolve(target) }, thisMachine(root));
  } catch (error) {
    throw new Failure((error as Error).message);
  }
}
