import type { System } from "./machines";

/** A command that a system brings, and what becomes of what the command tells. */
export interface MonitorCommand {
  does: string;
  command: string;
  /** How to end it, and what it does not tell. */
  note: string;
}

/**
 * How to log, to time and to look with what each system brings. What stands in capitals is to be replaced.
 * Every form is imported as it is (monitors.ts, log.ts).
 */
export const MONITOR_COMMANDS: Record<System, readonly MonitorCommand[]> = {
  windows: [
    {
      does: "Log a drive’s rate, a line a second",
      command:
        'typeperf "\\PhysicalDisk(*E:)\\Disk Read Bytes/sec" "\\PhysicalDisk(*E:)\\Disk Write Bytes/sec" -si 1 -o drive.csv',
      note: "E: is the drive’s letter. Ctrl-C ends the log. Import drive.csv.",
    },
    {
      does: "Time a copy of a folder",
      command: "robocopy FOLDER E:\\copy /E /J /NFL /NDL",
      note: "The last lines tell bytes and seconds: type them as a figure, “320 GB in 6:40”.",
    },
    {
      does: "See how each drive is attached",
      command: "Get-PhysicalDisk | Format-Table FriendlyName, BusType, MediaType, Size",
      note: "In PowerShell. The system does not tell at which speed a USB link runs.",
    },
  ],
  macos: [
    {
      does: "Log a drive’s rate, a line a second",
      command: "iostat -d -w 1 disk4 > drive.txt",
      note: "diskutil list tells the drive’s number. Ctrl-C ends the log. It tells no times, and both ways together: say which way was measured.",
    },
    {
      does: "Time a copy of a folder",
      command: "time ditto FOLDER /Volumes/DRIVE/copy && du -sk FOLDER",
      note: "“real” is the time, and the last line the size in KiB: type both as a figure.",
    },
    {
      does: "See at which link speed a drive runs",
      command: "system_profiler SPUSBDataType SPThunderboltDataType",
      note: "“Speed: Up to 10 Gb/s” stands below the drive’s name.",
    },
  ],
  linux: [
    {
      does: "Log what all drives move, a line a second",
      command: "vmstat -t 1 > drive.txt",
      note: "Ctrl-C ends the log. It tells all drives together. nerrit watch tells one drive.",
    },
    {
      does: "Time a copy of a folder",
      command: "time sh -c 'cp -R FOLDER /media/DRIVE/copy && sync' && du -sk FOLDER",
      note: "“real” is the time, and the last line the size in KiB: type both as a figure.",
    },
    {
      does: "See at which link speed a drive runs",
      command: "lsusb -t",
      note: "“10000M” is 10 Gb/s. On the machine itself, nerrit probe tells the whole way.",
    },
  ],
};
