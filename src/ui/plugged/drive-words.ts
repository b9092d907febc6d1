import { driveMarks, type SeenDrive } from "@/core/system/drive";
import { linkName } from "@/core/system/system-words";
import { formatSize } from "@/core/units/size";

/** Host, where that is another machine, name, maker and size of a drive, in a line. */
export const driveTitle = ({ host, name, maker, bytes }: SeenDrive): string =>
  [
    host,
    maker && !name.startsWith(maker) ? `${name}, ${maker}` : name,
    bytes === null ? null : formatSize(bytes, 1000),
  ]
    .filter(Boolean)
    .join(" · ");

/** How it is linked, what it hangs on, and what else should be known before it is taken. */
export const driveHint = (drive: SeenDrive): string =>
  [
    drive.link ? linkName(drive.link) : null,
    drive.hangsOn ? `on ${drive.hangsOn}` : null,
    ...driveMarks(drive),
  ]
    .filter(Boolean)
    .join(" · ");
