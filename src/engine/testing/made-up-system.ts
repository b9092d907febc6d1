import fs from "node:fs";
import os from "node:os";
import path from "node:path";

/** A made-up kernel tree, for tests only: files by their path as on a machine. */
export type MadeUp = Record<string, string | Uint8Array>;

/** Where a link in a made-up tree leads, as on a machine: "/sys/devices/...". */
export const link = (target: string) => `-> ${target}`;

/** Several files of one directory. */
export const inside = (folder: string, files: MadeUp): MadeUp =>
  Object.fromEntries(Object.entries(files).map(([name, value]) => [`${folder}/${name}`, value]));

/** A SCSI disk as a block device, its number, and the links by which it is found. */
export const scsiDisk = (
  device: string,
  name: string,
  number: string,
  more: MadeUp = {},
): MadeUp => {
  const at = `${device}/block/${name}`;
  return {
    ...inside(at, { dev: number, size: "1953525168", device: link(device) }),
    ...inside(device, { model: `Disk ${name}`, vendor: "Firn", ...more }),
    ...found(at, name, number),
  };
};

/** The links by which a block device is found. */
export const found = (at: string, name: string, number: string): MadeUp => ({
  [`/sys/dev/block/${number}`]: link(at),
  [`/sys/class/block/${name}`]: link(at),
});

/** A PCI device with its link as the kernel words it. */
export const pci = (at: string, code: string, speed: string, width: string, most = speed): MadeUp =>
  inside(at, {
    class: code,
    current_link_speed: `${speed} GT/s PCIe`,
    current_link_width: width,
    max_link_speed: `${most} GT/s PCIe`,
    max_link_width: width,
  });

/** One line of the mount table. */
export const mounted = (
  number: string,
  point: string,
  type = "ext4",
  source = "/dev/x",
): MadeUp => ({
  "/proc/self/mountinfo": `36 25 ${number} / ${point} rw - ${type} ${source} rw\n`,
});

/** Writes a tree below a fresh directory. @returns its root; the caller removes it */
export function makeSystem(files: MadeUp): string {
  const root = fs.mkdtempSync(path.join(os.tmpdir(), "nerrit-system-"));
  for (const [file, value] of Object.entries({ "/proc/self/mountinfo": "", ...files })) {
    const place = path.join(root, file);
    fs.mkdirSync(path.dirname(place), { recursive: true });
    if (typeof value === "string" && value.startsWith("-> ")) {
      const target = path.join(root, value.slice(3));
      fs.symlinkSync(path.relative(path.dirname(place), target), place);
    } else fs.writeFileSync(place, typeof value === "string" ? `${value}\n` : value);
  }
  return root;
}
