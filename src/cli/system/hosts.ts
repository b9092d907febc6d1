import type { Command } from "commander";
import type { HostFacts } from "@/core/host/host-facts";
import { lacksOf, measuredBy, type Lack, type MeasuredBy } from "@/core/host/lacks";
import { foundWords, machineWords } from "@/core/host/host-words";
import { askHost } from "@/services/hosts/ask";
import { configuredHosts } from "@/services/hosts/configured";
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
  /** Whether drills can be done there as it is, and by what. */
  measurable: boolean;
  measuredBy: MeasuredBy | null;
  lacks: Lack[];
}

async function lookAt(host: string): Promise<Looked> {
  const found = await askHost(host);
  if ("code" in found)
    return { host, facts: null, trouble: found, measurable: false, measuredBy: null, lacks: [] };
  const by = measuredBy(found, ownArchitecture());
  return {
    host,
    facts: found,
    trouble: null,
    measurable: by !== null,
    measuredBy: by,
    lacks: lacksOf(found, ownArchitecture()),
  };
}

function linesOf({ host, facts, trouble, measurable, lacks }: Looked): string[] {
  if (!facts) return [`${host}: not reached`, ...wrapped(trouble!.reason, 2)];
  return [
    `${host}: ${measurable ? "can be measured on" : "cannot be measured on as it is"}`,
    ...wrapped(machineWords(facts), 2),
    ...wrapped(foundWords(facts), 2),
    ...lacks.flatMap(({ what, without }) => wrapped(`${what} ${without}`, 2)),
  ];
}
