import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import type { Command } from "commander";
import { HostName } from "@/core/host/host-name";
import type { HostFacts } from "@/core/host/host-facts";
import { isMeasurable, lacksOf, type Lack } from "@/core/host/lacks";
import { formatNumber } from "@/core/units/number";
import { formatSize } from "@/core/units/size";
import { askHost } from "@/services/hosts/ask";
import { ownArchitecture } from "@/services/hosts/ready";
import { Failure, printJson } from "../exit";
import { wrapped } from "../lines";
import { hostNamed } from "../on-host";

/** `nerrit hosts`: which machines can be logged into, and what each has. */
export function addHosts(program: Command): void {
  program
    .command("hosts")
    .description(
      "say what other machines have that are reached with ssh, and what is missing there",
    )
    .argument(
      "[host...]",
      "names as ssh knows them; all that your SSH configuration names if left out",
    )
    .option("--json", "print one JSON document")
    .action(async (names: string[], { json }: { json?: boolean }) => {
      const hosts = names.length > 0 ? names.map(hostNamed) : configuredHosts();
      if (hosts.length === 0)
        throw new Failure(
          "your SSH configuration names no host; name one, for example nerrit hosts me@10.0.0.7",
        );
      const asked = await Promise.all(hosts.map(lookAt));
      if (json) printJson({ hosts: asked });
      else process.stdout.write(`${asked.flatMap(linesOf).join("\n")}\n`);
      if (asked.every(({ facts }) => facts === null)) process.exitCode = 1;
    });
}

/** A host as it was found. */
interface Looked {
  host: string;
  /** Null where it was not reached. */
  facts: HostFacts | null;
  /** Why it was not reached. */
  trouble: { code: string; reason: string } | null;
  /** Whether drills can be done there as it is. */
  measurable: boolean;
  lacks: Lack[];
}

async function lookAt(host: string): Promise<Looked> {
  const found = await askHost(host);
  if ("code" in found) return { host, facts: null, trouble: found, measurable: false, lacks: [] };
  return {
    host,
    facts: found,
    trouble: null,
    measurable: isMeasurable(found),
    lacks: lacksOf(found, ownArchitecture()),
  };
}

/** The hosts that the tester's configuration names one by one (ssh_config(5), Host). */
function configuredHosts(): string[] {
  const file = process.env.NERRIT_SSH_CONFIG ?? path.join(os.homedir(), ".ssh", "config");
  let text = "";
  try {
    text = fs.readFileSync(file, "utf8");
  } catch {
    return [];
  }
  const names = text
    .split("\n")
    .flatMap((line) => /^\s*Host[\s=]+(.*)$/i.exec(line)?.[1]?.split(/\s+/) ?? []);
  return [...new Set(names)].filter((name) => HostName.safeParse(name).success);
}

function linesOf({ host, facts, trouble, measurable, lacks }: Looked): string[] {
  if (!facts) return [`${host}: not reached`, ...wrapped(trouble!.reason, 2)];
  const { system, release, architecture, processor, cores, memoryBytes, roundTripMs } = facts;
  const machine = [
    `${system} ${release}, ${architecture}`,
    ...(processor ? [processor] : []),
    ...(cores ? [`${cores} ${cores === 1 ? "core" : "cores"}`] : []),
    ...(memoryBytes ? [`${formatSize(memoryBytes)} memory`] : []),
  ].join(" · ");
  const found = [
    facts.node ? `Node ${facts.node.version}` : "no Node",
    facts.compiler ? "a C compiler" : "no C compiler",
    ...(roundTripMs === null ? [] : [`answers in ${formatNumber(roundTripMs)} ms`]),
  ].join(" · ");
  return [
    `${host}: ${measurable ? "can be measured on" : "cannot be measured on as it is"}`,
    ...wrapped(machine, 2),
    ...wrapped(found, 2),
    ...lacks.flatMap(({ what, without }) => wrapped(`${what} ${without}`, 2)),
  ];
}
