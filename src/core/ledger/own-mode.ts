import * as z from "zod";
import { line } from "../units/text";
import { LineCodeId, TransportId, type LinkMode } from "./mode";

/** A link that the tester describes because no list has it: everything its ledger follows from. */
export const OwnMode = z.object({
  name: line(60).min(1, "give the mode a name"),
  /** Transfers a second on one lane, 10^9/s. */
  rate: z.coerce.number().positive("must be above 0").max(1000, "at most 1000 GT/s a lane"),
  lanes: z.coerce.number().int("whole lanes").min(1, "at least one lane").max(32, "at most 32"),
  code: LineCodeId,
  /** Bytes of payload in a packet, and of everything else that goes with it. */
  payload: z.coerce.number().int("whole bytes").min(1, "at least 1 B").max(1e6, "at most 1 MB"),
  overhead: z.coerce.number().int("whole bytes").min(0, "not negative").max(1e6, "at most 1 MB"),
  duplex: z.enum(["full", "half"]),
  shared: z.enum(["yes", "no"]),
  protocol: TransportId,
  /** What good hardware reaches, as a share of the hard ceiling. */
  low: z.coerce.number().gt(0, "above 0").max(1, "at most 1"),
  high: z.coerce.number().gt(0, "above 0").max(1, "at most 1"),
});
export type OwnMode = z.infer<typeof OwnMode>;

/** The same, with what its fields must be to one another. */
export const OwnModeDraft = OwnMode.refine(({ low, high }) => low <= high, {
  path: ["low"],
  message: "must not be above the high end",
});

const PREFIX = "own:";

/**
 * The identifier of a tester's own mode. It holds the whole description, so that a part, a run or a
 * file that names the mode can always be understood, wherever it goes.
 */
export const ownModeId = (mode: OwnMode): string =>
  PREFIX + new URLSearchParams(Object.entries(mode).map(([k, v]) => [k, String(v)])).toString();

/** Reads what such an identifier describes; null for one of another kind, or that makes no sense. */
export function describedMode(id: string): OwnMode | null {
  if (!id.startsWith(PREFIX) || id.length > 600) return null;
  const fields = Object.fromEntries(new URLSearchParams(id.slice(PREFIX.length)));
  return OwnModeDraft.safeParse(fields).data ?? null;
}

/** The mode that an identifier describes, to be used like any other; null where it describes none. */
export function ownMode(id: string): LinkMode | null {
  const own = describedMode(id);
  if (!own) return null;
  const source = "stated by the tester";
  return {
    id,
    name: own.name,
    formal: `${own.name}, described by the tester`,
    short: own.name,
    family: "own",
    gigatransfers: own.rate,
    signallingSource: source,
    lanes: own.lanes,
    lineCode: own.code,
    duplex: own.duplex,
    shared: own.shared === "yes",
    framing: [
      {
        kind: "packet",
        what: `${own.payload} B payload in a packet`,
        payload: own.payload,
        overhead: [{ what: "everything else in the packet", bytes: own.overhead }],
        source,
        basis: "assumption",
      },
    ],
    assumptions: {},
    transports: [
      { id: own.protocol, read: [own.low, own.high], write: [own.low, own.high], source },
    ],
  };
}
