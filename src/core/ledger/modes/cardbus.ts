import type { LinkMode } from "../mode";

/**
 * CardBus: a 32-bit word at 33.3 MHz, on a bus shared with the rest of the machine. Address phases and
 * turn-round depend on the length of bursts, which is not limited, so the ceiling is the bus itself.
 */
export const CARDBUS_MODE: LinkMode = {
  id: "cardbus",
  name: "CardBus",
  formal: "PC Card, CardBus, 32 bit at 33.3 MHz",
  short: "CardBus",
  family: "card",
  year: 1995,
  gigatransfers: 1 / 30,
  signallingSource: "PC Card Standard 8.0, volume 2; PCI Local Bus 2.2, 4.2.3",
  lanes: 32,
  lineCode: "none",
  duplex: "half",
  shared: true,
  framing: [],
  assumptions: {},
  transports: [
    {
      id: "scsi",
      read: [0.3, 0.85],
      write: [0.25, 0.8],
      source: "adapters with long bursts; much depends on what else is on the bus",
    },
  ],
};
