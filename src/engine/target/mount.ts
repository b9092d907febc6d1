import fs from "node:fs/promises";

/** Where a path is mounted, from the kernel's own table. */
export interface Mount {
  /** MAJOR:MINOR of what is mounted; of some file systems a number that no device has. */
  number: string;
  point: string;
  type: string;
  options: string;
  source: string;
}

/** Reads one line of /proc/self/mountinfo (proc(5)); null for a line of another shape. */
export function parseMountLine(line: string): Mount | null {
  const [before, after] = line.split(" - ");
  const left = before?.split(" ") ?? [];
  const right = after?.split(" ") ?? [];
  if (left.length < 6 || right.length < 2) return null;
  return {
    number: left[2]!,
    point: unescape(left[4]!),
    type: right[0]!,
    options: [...new Set([...left[5]!.split(","), ...(right[2]?.split(",") ?? [])])].join(","),
    source: unescape(right[1]!),
  };
}

/** mountinfo writes space, tab, newline and backslash as octal. */
const unescape = (text: string) =>
  text.replace(/\\([0-7]{3})/g, (_, octal: string) => String.fromCharCode(parseInt(octal, 8)));

/**
 * The mount a path lies on: of all whose point is above the path the deepest, of those the latest.
 *
 * @param path absolute, without symbolic links
 */
export function mountOf(path: string, mounts: readonly Mount[]): Mount | null {
  let found: Mount | null = null;
  for (const mount of mounts) {
    const prefix = mount.point.endsWith("/") ? mount.point : `${mount.point}/`;
    if (path !== mount.point && !path.startsWith(prefix)) continue;
    if (!found || mount.point.length >= found.point.length) found = mount;
  }
  return found;
}

/** Every mount this process sees; empty where there is no such table. */
export async function readMounts(): Promise<Mount[]> {
  try {
    const text = await fs.readFile("/proc/self/mountinfo", "utf8");
    return text.split("\n").flatMap((line) => parseMountLine(line) ?? []);
  } catch {
    return [];
  }
}
