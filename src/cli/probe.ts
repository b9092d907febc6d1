import path from "node:path";
import type { Command } from "commander";
import { askSystem } from "@/bench/system";
import type { SeenNode, SystemReport } from "@/core/system/report";
import { formatSize } from "@/core/units/size";
import { Failure, printJson } from "./exit";

interface Options {
  root?: string;
  json?: boolean;
}

/** `nerrit probe`: the chain from host to drive as the operating system knows it. */
export function addProbe(program: Command): void {
  program
    .command("probe")
    .description("say what the system knows of the way to a directory or block device")
    .argument("<path>", "directory on the drive, or block device")
    .option("--root <directory>", "read the kernel's tree (sys, proc) below this directory")
    .option("--json", "print one JSON document")
    .action(async (target: string, options: Options) => {
      const report = await ask(target, options.root);
      if (options.json) printJson(report);
      else process.stdout.write(`${lines(report).join("\n")}\n`);
    });
}

async function ask(target: string, root: string | undefined): Promise<SystemReport> {
  try {
    return await askSystem({ path: path.resolve(target) }, root);
  } catch (error) {
    throw new Failure((error as Error).message);
  }
}

function lines({ mount, blocks, ways, findings, gaps }: SystemReport): string[] {
  return [
    ...(mount ? [`${mount.point}: ${mount.type} on ${mount.source} (${mount.options})`] : []),
    ...blocks.map(
      ({ name, kind, bytes, over }) =>
        `${name}: ${kind}${bytes ? `, ${formatSize(bytes, 1000)}` : ""}${over.length > 0 ? ` on ${over.join(", ")}` : ""}`,
    ),
    ...ways.flatMap(({ end, nodes }) => ["", `from the host to ${end}:`, ...nodes.map(nodeLine)]),
    ...(findings.length > 0 ? ["", "found:", ...findings.map(({ text }) => `  ${text}`)] : []),
    ...(gaps.length > 0
      ? ["", "not found out:", ...gaps.map(({ what, from, why }) => `  ${what} (${from}): ${why}`)]
      : []),
  ];
}

function nodeLine({ name, maker, link, driver, serial }: SeenNode): string {
  const more = [
    link && `runs at ${link.now}${link.most ? `, at most ${link.most}` : ""}`,
    driver && `driver ${driver}`,
    serial && `serial ${serial}`,
  ].filter(Boolean);
  const called = maker && !name.startsWith(maker) ? `${name}, ${maker}` : name;
  return `  ${called}${more.length > 0 ? `: ${more.join("; ")}` : ""}`;
}
