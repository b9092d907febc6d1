import type { System } from "./machines";

/** A command that a system brings, and what becomes of what the command tells. */
export interface MonitorCommand {
  does: string;
  command: string;
  /** How to end it, and what it does not tell. */
  note: string;
}

/** How to see at which speed the links run; the text is read as it is (core/system/pasted/). */
export const LOOK_COMMANDS: Record<System, MonitorCommand> = {
  windows: {
    does: "See how each drive is attached",
    command:
      "Get-PhysicalDisk | Format-List FriendlyName, SerialNumber, BusType, Size; Get-PnpDevice -PresentOnly -Class SCSIAdapter | Get-PnpDeviceProperty -KeyName DEVPKEY_NAME, DEVPKEY_PciDevice_CurrentLinkSpeed, DEVPKEY_PciDevice_CurrentLinkWidth | Format-List InstanceId, KeyName, Data",
    note: "In PowerShell. The system tells the speed of PCIe links, and not of USB links.",
  },
  macos: {
    does: "See at which link speed a drive runs",
    command: "system_profiler SPUSBDataType SPThunderboltDataType SPNVMeDataType",
    note: "“Speed: Up to 10 Gb/s” stands below the drive’s name.",
  },
  linux: {
    does: "See at which link speed a drive runs",
    command: "lsusb -tv",
    note: "“10000M” is 10 Gb/s. On the machine itself, nerrit probe tells the whole way.",
  },
};

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
    LOOK_COMMANDS.windows,
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
    LOOK_COMMANDS.macos,
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
    LOOK_COMMANDS.linux,
  ],
};
