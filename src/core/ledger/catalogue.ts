import type { LinkMode } from "./mode";
import { CARDBUS_MODE } from "./modes/cardbus";
import { ETHERNET_MODES } from "./modes/ethernet";
import { IEEE_1394_MODES } from "./modes/ieee-1394";
import { PARALLEL_ATA_MODES } from "./modes/parallel-ata";
import { CARD_MODES, PCIE_MODES } from "./modes/pcie";
import { SAS_MODES } from "./modes/sas";
import { SATA_MODES } from "./modes/sata";
import { statedMode } from "./modes/stated";
import { SD_MODES } from "./modes/sd";
import { THUNDERBOLT_MODES } from "./modes/thunderbolt";
import { USB_MODES } from "./modes/usb";
import { USB4_MODES } from "./modes/usb4";
import { ownMode } from "./own-mode";

/** Every mode that a standard defines, family by family, slowest first. */
export const MODES: readonly LinkMode[] = [
  ...USB_MODES,
  ...USB4_MODES,
  ...THUNDERBOLT_MODES,
  ...PCIE_MODES,
  ...CARD_MODES,
  CARDBUS_MODE,
  ...SATA_MODES,
  ...SAS_MODES,
  ...PARALLEL_ATA_MODES,
  ...IEEE_1394_MODES,
  ...SD_MODES,
  ...ETHERNET_MODES,
];

const BY_ID = new Map(MODES.map((mode) => [mode.id, mode]));

/** Modes that are made from their identifier, once for each. */
const made = new Map<string, LinkMode>();

/** Looks a mode up, stated rates and the tester's own included; null when there is none such. */
export function findMode(id: string): LinkMode | null {
  const listed = BY_ID.get(id) ?? made.get(id);
  if (listed !== undefined) return listed;
  const mode = statedMode(id) ?? ownMode(id);
  if (mode) made.set(id, mode);
  return mode;
}

/**
 * Looks up a mode that must be there.
 *
 * @throws RangeError naming the unknown mode
 */
export function modeOf(id: string): LinkMode {
  const mode = findMode(id);
  if (!mode) throw new RangeError(`There is no link mode "${id}".`);
  return mode;
}
