import type { LinkMode } from "./mode";
import { ETHERNET_MODES } from "./modes/ethernet";
import { PCIE_MODES } from "./modes/pcie";
import { SATA_MODES } from "./modes/sata";
import { statedMode } from "./modes/stated";
import { USB_MODES } from "./modes/usb";

/** Every mode that a standard defines, family by family, slowest first. */
export const MODES: readonly LinkMode[] = [
  ...USB_MODES,
  ...SATA_MODES,
  ...PCIE_MODES,
  ...ETHERNET_MODES,
];

const BY_ID = new Map(MODES.map((mode) => [mode.id, mode]));

/** Looks a mode up, the stated ones included; null when there is none of that name. */
export function findMode(id: string): LinkMode | null {
  return BY_ID.get(id) ?? statedMode(id);
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
