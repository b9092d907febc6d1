import type { Direction } from "../units/rate";
import { LINE_CODES } from "./line-code";
import type { Basis, ByteCount, Carrier, FramingStep, LinkMode, TransportId } from "./mode";

/** One line of the ledger: what it is, what it costs or allows, and the rate that is left. */
export interface LedgerRow {
  step: "signalling" | "line code" | "framing" | "held" | "transport";
  what: string;
  /** Share kept by this row; null where the row states an amount or a band. */
  factor: number | null;
  /** Payload rate left after this row, MB/s; for the transport row the top of its band. */
  mbps: number;
  /** For the transport row, the bottom of its band, MB/s. */
  lowMbps?: number;
  source: string;
  basis: Basis;
}

/** The account of one mode in one direction, all rates in MB/s (10^6 bytes of payload a second). */
export interface LedgerAccount {
  modeId: string;
  direction: Direction;
  transport: TransportId;
  assumptions: Record<string, number>;
  rows: LedgerRow[];
  lineRate: number;
  hardCeiling: number;
  attainable: { low: number; high: number };
}

export interface AccountOptions {
  /** Command protocol; the mode's first one if left out or not offered. */
  transport?: TransportId;
  /** Values that replace the mode's standard assumptions, by name. */
  assumptions?: Record<string, number>;
  /**
   * MB/s of the link that something else holds (a display, a busy neighbour); in a tunnel it comes
   * off the outer link, not off the link inside.
   */
  held?: number;
}

/** Accounts drawn up already: what a rig can carry asks for the same few again and again. */
const drawn = new WeakMap<LinkMode, Map<string, LedgerAccount>>();

/**
 * Draws up the link ledger of a mode: signalling, line code, framing, transport, in that order.
 *
 * @param mode the link mode
 * @param direction read (drive to host) or write
 * @throws RangeError for an assumption the mode does not have, or a value that leaves no payload
 */
export function account(
  mode: LinkMode,
  direction: Direction,
  options: AccountOptions = {},
): LedgerAccount {
  const known = drawn.get(mode) ?? new Map<string, LedgerAccount>();
  drawn.set(mode, known);
  const { transport, assumptions = {}, held = 0 } = options;
  const key = JSON.stringify([direction, transport, Object.entries(assumptions).sort(), held]);
  const found = known.get(key) ?? drawUp(mode, direction, options);
  known.set(key, found);
  return found;
}

/** What a mode signals, and what is left of it after the line code. */
function lineRows(mode: LinkMode, direction: Direction): [LedgerRow, LedgerRow] {
  const lanes = mode.lanesByDirection?.[direction] ?? mode.lanes;
  const signalling = (mode.gigatransfers * 1e9 * lanes) / 8 / 1e6;
  const code = LINE_CODES[mode.lineCode];
  return [
    {
      step: "signalling",
      what: `${Number(mode.gigatransfers.toPrecision(5))} GT/s × ${lanes} ${lanes === 1 ? "lane" : "lanes"}`,
      factor: null,
      mbps: signalling,
      source: mode.signallingSource,
      basis: "standard",
    },
    {
      step: "line code",
      what: code.what,
      factor: code.share,
      mbps: signalling * code.share,
      source: code.source,
      basis: "standard",
    },
  ];
}

function drawUp(mode: LinkMode, direction: Direction, options: AccountOptions): LedgerAccount {
  const assumptions = assumed(mode, options.assumptions ?? {});
  const rows: LedgerRow[] = [...lineRows(mode, direction)];
  const push = (row: LedgerRow) => rows.push(row);
  const lineRate = rows[1]!.mbps;
  let rate = lineRate;

  let held = options.held ?? 0;
  const holdBack = () => {
    if (held <= 0) return;
    rate = Math.max(0, rate - held);
    push({
      step: "held",
      what: `used by other devices on the link: ${Number(held.toPrecision(4))} MB/s`,
      factor: null,
      mbps: rate,
      source: "stated by the tester",
      basis: "assumption",
    });
    held = 0;
  };
  for (const step of mode.framing) {
    if (step.kind === "tunnelled") holdBack();
    const next = afterFraming(step, rate, assumptions);
    push({
      step: "framing",
      what: step.what,
      factor: rate > 0 ? next / rate : null,
      mbps: next,
      source: step.source,
      basis: step.basis,
    });
    rate = next;
  }
  holdBack();

  const band = mode.transports.find(({ id }) => id === options.transport) ?? mode.transports[0]!;
  const [low, high] = band[direction];
  const attainable = { low: rate * low, high: rate * high };
  push({
    step: "transport",
    what: TRANSPORT_NAMES[band.id],
    factor: null,
    mbps: attainable.high,
    lowMbps: attainable.low,
    source: band.source,
    basis: "experience",
  });

  return {
    modeId: mode.id,
    direction,
    transport: band.id,
    assumptions,
    rows,
    lineRate,
    hardCeiling: rate,
    attainable,
  };
}

/** Trade names of the command protocols. */
export const TRANSPORT_NAMES: Record<TransportId, string> = {
  "usb-queued": "USB storage, queued (UAS)",
  "usb-unqueued": "USB storage, unqueued (bulk only)",
  nvme: "NVMe",
  ahci: "AHCI with command queueing",
  "legacy-ata": "ATA without queueing",
  scsi: "SCSI with command queueing",
  "sd-card": "SD card commands",
  "network-file": "file protocol over TCP/IP",
  stated: "as stated",
};

function assumed(mode: LinkMode, given: Record<string, number>): Record<string, number> {
  const values = Object.fromEntries(
    Object.entries(mode.assumptions).map(([name, a]) => [name, a.standard]),
  );
  for (const [name, value] of Object.entries(given)) {
    if (!(name in values)) {
      const known = Object.keys(values).join(", ") || "none";
      throw new RangeError(`${mode.name} has no assumption "${name}" (it has: ${known})`);
    }
    if (!Number.isFinite(value) || value <= 0) {
      throw new RangeError(`${name} must be a positive number, not ${value}`);
    }
    values[name] = value;
  }
  return values;
}

function bytes(count: ByteCount, assumptions: Record<string, number>): number {
  if (typeof count === "number") return count;
  const value = assumptions[count.assumption]! - count.less;
  if (value <= 0) {
    throw new RangeError(
      `${count.assumption} must be more than ${count.less} bytes to leave room for payload`,
    );
  }
  return value;
}

function afterFraming(
  step: FramingStep,
  rate: number,
  assumptions: Record<string, number>,
): number {
  switch (step.kind) {
    case "packet": {
      const payload = bytes(step.payload, assumptions);
      const overhead = step.overhead.reduce((sum, part) => sum + part.bytes, 0);
      return (rate * payload) / (payload + overhead);
    }
    case "tunnelled":
      return Math.min(rate, carried(step.inner, assumptions));
    case "periodic":
      return rate * (1 - step.lost / step.outOf);
    case "slots":
      return Math.min(rate, (step.packets * step.payload) / step.periodSeconds / 1e6);
  }
}

/** What a link carries by itself, MB/s; of the assumptions only its own count. */
function carried(link: Carrier, assumptions: Record<string, number>): number {
  const own = Object.entries(link.assumptions).map(([name, { standard }]) => [
    name,
    assumptions[name] ?? standard,
  ]);
  const lineRate =
    ((link.gigatransfers * 1e9 * link.lanes) / 8 / 1e6) * LINE_CODES[link.lineCode].share;
  return link.framing.reduce<number>(
    (rate, step) => afterFraming(step, rate, Object.fromEntries(own)),
    lineRate,
  );
}

/** Those of several assumptions that a mode has. */
export function ownAssumptions(
  mode: Pick<LinkMode, "assumptions">,
  all: Record<string, number>,
): Record<string, number> {
  return Object.fromEntries(Object.entries(all).filter(([name]) => name in mode.assumptions));
}
