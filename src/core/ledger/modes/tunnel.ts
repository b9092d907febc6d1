import { account } from "../account";
import type { FramingStep, LinkMode } from "../mode";

/**
 * What a tunnel costs: packets of one link carried inside packets of another. The outer link's
 * signalling and line code come first in the ledger, then these steps, then the most that the inner
 * link itself can carry.
 */

/**
 * PCI Express in a tunnel: transaction packets of 128 B payload, as hosts set it for tunnels, each
 * in one transport packet.
 */
export function pcieInside(source: string): FramingStep {
  return {
    kind: "packet",
    what: "128 B payload of a PCIe packet in a tunnel packet",
    payload: 128,
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

/** The tunnelled link's own hard ceiling. @param assumptions as for its ledger */
export function ownLimit(inner: LinkMode, assumptions: Record<string, number> = {}): FramingStep {
  const { hardCeiling } = account(inner, "read", { assumptions });
  return {
    kind: "cap",
    what: `the tunnelled link itself: ${inner.name}`,
    mbps: hardCeiling,
    source: `ledger of ${inner.name}`,
    basis: "standard",
  };
}
