import * as z from "zod";
import type { PartInput } from "../chain/part";

/**
 * What a USB-C cable with a chip says of itself, from the words of its identity. Fields by USB Power
 * Delivery, "Discover Identity" (ID Header, Passive Cable and Active Cable VDOs; revision 2.0 has one
 * Cable VDO for both), as the kernel restates them in include/linux/usb/pd_vdo.h.
 */

/** The identity as the kernel shows it (Documentation/ABI/testing/sysfs-class-typec). */
export interface CableIdentity {
  /** "passive" or "active", where the port's driver tells. */
  type: string | null;
  /** Revision of Power Delivery that the cable speaks: "2.0", "3.0", "3.1". */
  revision: string | null;
  idHeader: number;
  /** Product type VDOs; 0 where none came. */
  vdo1: number;
  vdo2: number;
}

export const CableChip = z.object({
  active: z.boolean().nullable(),
  /** Number of the maker, as USB-IF gave it; null where the chip says none. */
  makerId: z.number().nullable(),
  /** Nerrit's modes that the chip says it carries, the fastest last; null where it says none that is known. */
  modes: z.array(z.string()).nullable(),
  /** The same in words. */
  speed: z.string(),
  amperes: z.number().nullable(),
  volts: z.number().nullable(),
  /** Fixed to what it hangs on, so that it is no cable of its own. */
  captive: z.boolean(),
  optical: z.boolean(),
  /** At most so many nanoseconds from end to end; null where the chip does not say. */
  latencyNs: z.number().nullable(),
});
export type CableChip = z.infer<typeof CableChip>;

const bits = (word: number, high: number, low: number) =>
  Math.floor(word / 2 ** low) % 2 ** (high - low + 1);

/** Product types of a cable plug, ID Header bits 29 to 27. */
const PASSIVE = 3;
const ACTIVE = 4;

/** USB highest speed, bits 2 to 0 of the cable's VDO. A full cable has both lanes. */
const SPEEDS = [
  { words: "USB 2.0 only, 480 Mb/s", modes: ["usb-480m"] },
  {
    words: "USB 3.2 Gen 1, 5 Gb/s a lane",
    modes: ["usb-480m", "usb-5g", "usb-10g-two-lane"],
  },
  {
    words: "USB 3.2 and USB4 Gen 2, 10 Gb/s a lane",
    modes: ["usb-480m", "usb-5g", "usb-10g-two-lane", "usb-10g", "usb-20g", "usb4-20g-pcie"],
  },
  {
    words: "USB4 Gen 3, 20 Gb/s a lane",
    modes: [
      "usb-480m",
      "usb-5g",
      "usb-10g-two-lane",
      "usb-10g",
      "usb-20g",
      "usb4-20g-pcie",
      "usb4-40g-pcie",
    ],
  },
  {
    words: "USB4 Gen 4, 40 Gb/s a lane",
    modes: [
      "usb-480m",
      "usb-5g",
      "usb-10g-two-lane",
      "usb-10g",
      "usb-20g",
      "usb4-20g-pcie",
      "usb4-40g-pcie",
      "usb4-80g-pcie",
    ],
  },
] as const;

/** Of revision 2.0, where 3 and above are not given out. */
const OLD_SPEEDS = 3;
/** A lane: what an active cable of a single one does not carry. */
const TWO_LANES = ["usb-10g-two-lane", "usb-20g", "usb4-20g-pcie", "usb4-40g-pcie"];

/**
 * Reads a cable's identity.
 *
 * @returns null where the cable has not answered yet (the kernel shows 0 until it has)
 */
export function readCableChip(identity: CableIdentity): CableChip | null {
  const { idHeader, vdo1, vdo2 } = identity;
  if (idHeader === 0 || vdo1 === 0) return null;
  const old = Number.parseFloat(identity.revision ?? "3") < 3;
  const product = bits(idHeader, 29, 27);
  const active =
    identity.type === "active" || product === ACTIVE
      ? true
      : identity.type === "passive" || product === PASSIVE
        ? false
        : null;
  const code = bits(vdo1, 2, 0);
  const known = code < (old ? OLD_SPEEDS : SPEEDS.length) ? SPEEDS[code] : undefined;
  // Active cables say in a second word what they leave out: one lane only, no USB 3.2, no USB4.
  const second = active && !old && vdo2 !== 0 ? vdo2 : null;
  const leftOut = (mode: string) =>
    second !== null &&
    ((bits(second, 3, 3) === 0 && TWO_LANES.includes(mode)) ||
      (bits(second, 8, 8) === 1 && mode.startsWith("usb4")) ||
      (bits(second, 5, 5) === 1 && mode === "usb-480m") ||
      (bits(second, 4, 4) === 1 && /^usb-\d+g/.test(mode)));
  const latency = bits(vdo1, 16, 13);
  const current = bits(vdo1, 6, 5);
  const maker = bits(idHeader, 15, 0);
  return {
    active,
    makerId: maker === 0 ? null : maker,
    modes: known ? known.modes.filter((mode) => !leftOut(mode)) : null,
    speed: known?.words ?? `a speed that has no meaning in its revision (${code})`,
    amperes: current === 1 ? 3 : current === 2 ? 5 : null,
    volts: old ? null : 20 + 10 * bits(vdo1, 10, 9),
    captive: bits(vdo1, 19, 18) === 3,
    optical: second !== null && bits(second, 10, 10) === 1,
    latencyNs: latency >= 1 && latency <= 7 ? 10 * latency : null,
  };
}

/** "passive, USB 3.2 Gen 1, 5 Gb/s a lane, 3 A, at most 20 ns" */
export const chipWords = (chip: CableChip): string =>
  [
    chip.active === null ? null : chip.active ? "active" : "passive",
    chip.optical ? "optical" : null,
    chip.captive ? "fixed to its device" : null,
    chip.speed,
    chip.amperes === null ? null : `${chip.amperes} A`,
    chip.volts === null ? null : `${chip.volts} V`,
    chip.latencyNs === null ? null : `at most ${chip.latencyNs} ns from end to end`,
    chip.makerId === null ? null : `maker ${chip.makerId.toString(16).padStart(4, "0")}`,
  ]
    .filter(Boolean)
    .join(", ");

/** The cable as a part, where it says what it carries and is one. */
export function cableFromChip(chip: CableChip): PartInput | null {
  if (!chip.modes || chip.modes.length === 0 || chip.captive) return null;
  return {
    kind: "cable",
    // What is printed on a box, without the name of the standard.
    name: `USB-C cable, ${chip.speed.split(", ").at(-1)}`,
    notes: `Its chip says: ${chipWords(chip)}.`,
    connectors: [{ side: "through", modes: [...chip.modes], shape: "usb-c", farShape: "usb-c" }],
  };
}
