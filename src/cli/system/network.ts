import type { Command } from "commander";
import { secondsOf, usualPassages, type NetworkFigures } from "@/core/network/figures";
import {
  carriedWords,
  cautionsOf,
  ceilingWords,
  mannerWords,
  networkTable,
} from "@/core/network/network-words";
import { Passage } from "@/core/network/protocol";
import { IN_MB } from "@/core/units/number";
import { parseSize } from "@/core/units/size";
import { networkAlone } from "@/services/hosts/network-alone";
import { printJson, Usage } from "../exit";
import { table, wrapped } from "../lines";
import { failing, hostNamed, readyOn } from "../on-host";
import { PROGRESS, ProgressLine } from "../progress-line";

interface Options {
  from?: string;
  address?: string;
  connections: string;
  repeats: string;
  seconds: string;
  block: string;
  progress?: boolean;
  json?: boolean;
}

/** `nerrit network`: what the network between two machines carries by itself. */
export function addNetwork(program: Command): void {
  program
    .command("network")
    .description("measure what the network to another host carries, from memory to memory")
    .argument("<host>", "the host at the other end, as ssh knows it")
    .option("--from <host>", "the end that asks (default: this machine)")
    .option("--address <address>", "where the other end is reached (default: as SSH reached it)")
    .option("--connections <list>", "TCP connections at once, several by commas", "1,4")
    .option("--repeats <n>", "passages each way", "3")
    .option("--seconds <s>", "seconds of each passage", "3")
    .option("--block <size>", "handed to the system at once", "512KiB")
    .option("--progress", PROGRESS)
    .option("--json", "print one JSON document")
    .action(network);
}

async function network(host: string, options: Options): Promise<void> {
  const passages = passagesOf(options);
  const name = hostNamed(host);
  const from = options.from === undefined ? null : hostNamed(options.from);
  if (from === name) throw new Usage("--from names the same host: a network has two ends");
  const [to, other] = await Promise.all([readyOn(name), from === null ? null : readyOn(from)]);
  const line = new ProgressLine(options.progress === true);
  const total = secondsOf(passages);
  const halt = new AbortController();
  for (const signal of ["SIGINT", "SIGTERM"] as const) process.on(signal, () => halt.abort());
  const asked = { from: other, to, address: options.address ?? null, passages };
  const figures = await failing(() =>
    networkAlone(
      asked,
      import.meta.dirname,
      (passage) => {
        const left = secondsOf(passages.slice(passage));
        line.say(
          `passage ${passage + 1} of ${passages.length}, about ${Math.round(left)} s of ${Math.round(total)} s left`,
          `${passage}`,
        );
      },
      halt.signal,
    ),
  );
  line.clear();
  if (options.json) printJson(figures);
  else process.stdout.write(`${linesOf(figures).join("\n")}\n`);
}

function linesOf(figures: NetworkFigures): string[] {
  const { head, rows } = networkTable(figures, IN_MB);
  const between = `Between ${figures.from} and ${figures.to}`;
  return [
    ...wrapped(`${between} the network carries ${carriedWords(figures, IN_MB)}.`),
    ...wrapped(ceilingWords(figures, IN_MB)),
    ...cautionsOf(figures).flatMap((text) => wrapped(text)),
    "",
    ...table(head, rows),
    ...wrapped(mannerWords(figures)),
  ];
}

function passagesOf(options: Options) {
  const number = (name: "repeats" | "seconds", least: number, most: number) => {
    const value = Number(options[name]);
    if (value >= least && value <= most) return value;
    throw new Usage(`--${name}: ${JSON.stringify(options[name])} is not from ${least} to ${most}`);
  };
  const connections = options.connections.split(",").map(Number);
  const repeats = number("repeats", 1, 20);
  if (!Number.isInteger(repeats)) throw new Usage("--repeats: must be a whole number");
  const seconds = number("seconds", 0.5, 600);
  let block: number;
  try {
    block = parseSize(options.block);
  } catch (error) {
    throw new Usage(`--block: ${(error as Error).message}`);
  }
  const passages = Passage.array()
    .min(1)
    .max(200)
    .safeParse(usualPassages({ connections, repeats, seconds, block }));
  if (passages.success) return passages.data;
  const [issue] = passages.error.issues;
  throw new Usage(`${["--connections or --block", issue!.message].join(": ")}`);
}
