import type { SystemReport } from "../system-report";
import { drivesOfDiskList, isDiskList } from "./disk-list";
import { drivesOfUsbTree, isUsbTree } from "./lsusb";
import { reportOf, type PastedDrive } from "./made";
import { drivesOfProfiler, isProfilerText } from "./profiler";

/** What a machine without Nerrit says of its drives, in the text of its own commands. */

interface Kind {
  /** The command that writes such text. */
  source: string;
  is(text: string): boolean;
  drives(text: string): PastedDrive[];
}

const KINDS: readonly Kind[] = [
  { source: "lsusb -t", is: isUsbTree, drives: drivesOfUsbTree },
  { source: "system_profiler", is: isProfilerText, drives: drivesOfProfiler },
  { source: "a list of disks", is: isDiskList, drives: drivesOfDiskList },
];

/** Longer than any machine's report. */
export const MOST_PASTED = 2_000_000;
/** More drives than any machine names. */
const MOST_DRIVES = 500;

/**
 * The drives that a pasted text tells of, each as the system's own report.
 *
 * @throws RangeError, in words, where the text is none of the known ones, or tells of no drive
 */
export function reportsIn(text: string): SystemReport[] {
  const plain = text.replace(/^\uFEFF/, "");
  const kind = KINDS.find(({ is }) => is(plain));
  if (!kind)
    throw new RangeError(
      "This text is none that Nerrit knows. Paste all that the command wrote: system_profiler, lsusb -t, or Get-PhysicalDisk | Format-List.",
    );
  const drives = kind.drives(plain).slice(0, MOST_DRIVES);
  if (drives.length === 0)
    throw new RangeError(`${kind.source} names no drive in this text. Is the drive plugged in?`);
  return drives.map((drive) => reportOf(drive, kind.source));
}
