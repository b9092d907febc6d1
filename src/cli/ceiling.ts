import type { Command } from "commander";
import { account, type LedgerAccount } from "@/core/ledger/account";
import { findMode, MODES } from "@/core/ledger/catalogue";
import type { LinkMode } from "@/core/ledger/mode";
import { formatRate } from "@/core/units/number";
import { printJson, Usage } from "./exit";

interface Options {
  list?: boolean;
  json?: boolean;
  set: Record<string, number>;
}

/** `nerrit ceiling`: the link ledger of a mode, or the list of modes. */
export function addCeiling(program: Command): void {
  program
    .command("ceiling")
    .description("print the link ledger of a mode, from signalling rate to payload ceiling")
    .argument("[mode]", "a mode's name, for example usb-10g, or stated-40 for a link of 40 MB/s")
    .option("--list", "list the modes")
    .option("--set <name=number>", "change an assumption, for example payload=256", collect, {})
    .option("--json", "print one JSON document")
    .action((id: string | undefined, options: Options) => {
      if (options.list) return listModes(options);
      if (!id) throw new Usage("name a mode, or ask for --list");
      const mode = findMode(id);
      if (!mode) throw new Usage(`there is no mode "${id}"; nerrit ceiling --list shows all`);
      printLedger(mode, options);
    });
}

function collect(text: string, all: Record<string, number>): Record<string, number> {
  const [name, value] = text.split("=");
  if (!name || !value || !Number.isFinite(Number(value))) {
    throw new Usage(`"${text}" is not name=number`);
  }
  return { ...all, [name]: Number(value) };
}

function accounts(mode: LinkMode, set: Record<string, number>) {
  try {
    return {
      read: account(mode, "read", { assumptions: set }),
      write: account(mode, "write", { assumptions: set }),
    };
  } catch (error) {
    throw new Usage(error instanceof Error ? error.message : String(error));
  }
}

function listModes(options: Options): void {
  const modes = MODES.map((mode) => {
    const { read, write } = accounts(mode, {});
    return {
      id: mode.id,
      name: mode.name,
      formal: mode.formal,
      lineRateMBps: read.lineRate,
      hardCeilingMBps: { read: read.hardCeiling, write: write.hardCeiling },
      attainableMBps: { read: read.attainable, write: write.attainable },
    };
  });
  if (options.json) return printJson(modes);
  for (const { id, formal, hardCeilingMBps } of modes) {
    process.stdout.write(
      `${id.padEnd(16)}${formatRate(hardCeilingMBps.read).padStart(8)} MB/s  ${formal}\n`,
    );
  }
}

function printLedger(mode: LinkMode, options: Options): void {
  const { read, write } = accounts(mode, options.set);
  if (options.json) {
    const direction = ({ hardCeiling, attainable, transport, rows }: LedgerAccount) => ({
      hardCeilingMBps: hardCeiling,
      attainableMBps: attainable,
      transport,
      rows: rows.map(({ mbps, lowMbps, ...row }) => ({ ...row, MBps: mbps, lowMBps: lowMbps })),
    });
    const { id, name, formal, duplex, shared } = mode;
    return printJson({
      mode: { id, name, formal, duplex, shared },
      assumptions: read.assumptions,
      lineRateMBps: read.lineRate,
      read: direction(read),
      write: direction(write),
    });
  }
  process.stdout.write(`${mode.name} (${mode.formal}), reading\n`);
  for (const row of read.rows) {
    const band = row.lowMbps === undefined ? "" : `${formatRate(row.lowMbps)} to `;
    process.stdout.write(
      `${row.step.padEnd(12)}${(band + formatRate(row.mbps)).padStart(16)} MB/s  ${row.what}\n${" ".repeat(35)}${row.basis}: ${row.source}\n`,
    );
  }
  process.stdout.write(
    `Nothing honest exceeds ${formatRate(read.hardCeiling)} MB/s; writing attains ${formatRate(write.attainable.low)} to ${formatRate(write.attainable.high)} MB/s.\n`,
  );
}
