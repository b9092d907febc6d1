import type { FramingStep, LinkMode } from "../mode";

/**
 * What a tunnel costs: packets of one link carried inside packets of another. The outer link's
 * signalling and line code come first in the ledger, then these steps, then the most that the inner
 * link itself can carry.
 */

/**
 * The largest PCI Express payload in a tunnel. A transport packet holds 256 B (USB4 1.0, chapter 5), so
 * 128 B is the largest payload whose packet fits one; from USB4 2.0 on larger packets are split.
 */
export const tunnelledPayload = (standard: 128 | 256): LinkMode["assumptions"] => ({
  payload: {
    label: "largest payload of a PCIe packet",
    unit: "B",
    options: [128, 256, 512],
    standard,
    note:
      standard === 128
        ? "A tunnel packet holds 256 B, so hosts set 128; more only where packets may be split."
        : "USB4 2.0 splits larger packets; hosts that do not, set 128.",
  },
});

/** PCI Express in a tunnel: each transaction packet in transport packets. */
export function pcieInside(source: string): FramingStep {
  return {
    kind: "packet",
    what: "payload of a PCIe packet in tunnel packets",
    payload: { assumption: "payload", less: 0 },
    overhead: [
      { what: "PCIe header of 3 double words", bytes: 12 },
      { what: "PCIe sequence number and link CRC", bytes: 6 },
      { what: "tunnel packet header", bytes: 4 },
    ],
    source,
    basis: "assumption",
  };
}

/** USB data packets in a tunnel: link commands and skips stay outside. */
export function usbInside(source: string): FramingStep {
  return {
    kind: "packet",
    what: "1024 B payload of a USB packet in tunnel packets",
    payload: 1024,
    overhead: [
      { what: "USB packet header and framing", bytes: 32 },
      { what: "tunnel packet headers, one per 256 B", bytes: 20 },
    ],
    source,
    basis: "standard",
  };
}

/** The tunnelled link itself: its own signalling, line code and framing, as its ledger has them. */
export function innerLink(inner: LinkMode): FramingStep {
  const { name, gigatransfers, lanes, lineCode, assumptions } = inner;
  const framing = inner.framing.filter((step) => step.kind !== "tunnelled");
  return {
    kind: "tunnelled",
    what: `the tunnelled link itself: ${name}`,
    inner: { name, gigatransfers, lanes, lineCode, framing, assumptions },
    source: `ledger of ${name}`,
    basis: "standard",
  };
}
