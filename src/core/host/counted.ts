import { COUNTED_NAME, countsOf } from "./counters";
import { HostName } from "../units/host-name";

/** A drive or an interface whose traffic a host counts. */
export interface CountedName {
  name: string;
  kind: "device" | "interface";
}

/** Said before the answer, so that what a login prints is told apart. */
export const COUNTED_BEGIN = "nerrit-counted";
/** For any POSIX shell: everything that the kernel counts the traffic of. */
export const COUNTED_QUESTION = `echo ${COUNTED_BEGIN}; cat /proc/diskstats /proc/net/dev 2>/dev/null; true`;

/** Devices that are no drives, or that nobody has used since the host came up. */
const UNUSED = /^(?:loop|ram|zram|fd|sr|mtdblock)\d+$/;

/** What can be watched on a host, whole drives first. @param text its answer to COUNTED_QUESTION */
export function countedIn(text: string): CountedName[] {
  const lines = text.slice(text.lastIndexOf(COUNTED_BEGIN)).split("\n");
  const counted = lines.flatMap(countsOf);
  const names = new Set(counted.map(([name]) => name));
  const found = counted.flatMap(([name, { kind, read, written }]) =>
    !COUNTED_NAME.test(name) ||
    name === "lo" ||
    isPartition(name, names) ||
    (UNUSED.test(name) && read + written === 0)
      ? []
      : [{ name, kind }],
  );
  return [
    ...found.filter(({ kind }) => kind === "device"),
    ...found.filter(({ kind }) => kind === "interface"),
  ];
}

/** "sda1" of "sda", "nvme0n1p2" of "nvme0n1" (Linux, block/partitions/core.c, disk_name). */
function isPartition(name: string, names: ReadonlySet<string>): boolean {
  const whole = /^(.*?)p?\d+$/.exec(name)?.[1];
  return whole !== undefined && names.has(whole);
}

/** "router:eth0": what is counted on another host; null for what is this machine's. */
export function countedOnHost(text: string): { host: string; name: string } | null {
  const at = text.lastIndexOf(":");
  const [host, name] = [text.slice(0, at), text.slice(at + 1)];
  return at > 0 && HostName.safeParse(host).success && COUNTED_NAME.test(name)
    ? { host, name }
    : null;
}
