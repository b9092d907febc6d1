/**
 * What a USB device says it can do, in its Binary device Object Store: a head of five bytes, then
 * capability descriptors, each with its length first (USB 3.2, BOS descriptor and device capabilities;
 * ABI: sysfs-bus-usb, bos_descriptors).
 */

const DEVICE_CAPABILITY = 0x10;
const SUPER_SPEED = 0x03;
const SUPER_SPEED_PLUS = 0x0a;
/** Of the SuperSpeed capability: offset of the speeds, and the bit for 5 Gb/s. */
const SPEEDS_AT = 4;
const GEN_1 = 1 << 3;

/**
 * Whether a device can run at 5 Gb/s or more.
 *
 * @returns null where the bytes are no object store
 */
export function canSuperSpeed(bytes: Uint8Array): boolean | null {
  if (bytes.length < 5 || bytes[0] !== 5 || bytes[1] !== 0x0f) return null;
  for (let at = 5; at + 2 < bytes.length;) {
    const length = bytes[at]!;
    if (length < 3) return null;
    if (bytes[at + 1] === DEVICE_CAPABILITY) {
      if (bytes[at + 2] === SUPER_SPEED_PLUS) return true;
      if (bytes[at + 2] === SUPER_SPEED && (bytes[at + SPEEDS_AT]! & GEN_1) !== 0) return true;
    }
    at += length;
  }
  return false;
}
