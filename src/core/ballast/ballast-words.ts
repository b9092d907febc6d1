import { formatPercent } from "../units/number";
import { formatSize } from "../units/size";
import { fillOf, type Ballast, type Room } from "./ballast";

/** "12.4 GB of ballast; the file system is 85 % full": how a drive with ballast stands. */
export function ballastWords({ bytes, level }: Ballast, room: Room): string {
  const full = formatPercent(fillOf(room));
  const unfinished = level === null ? ", unfinished" : "";
  return `${formatSize(bytes, 1000)} of ballast${unfinished}; the file system is ${full} full`;
}
