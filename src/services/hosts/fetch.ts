import fs from "node:fs";
import { pipeline } from "node:stream/promises";
import { formatSize } from "@/core/units/size";
import { commandOf, startOn } from "./ssh";
import { HostProblem } from "./trouble";

/**
 * Fetches a file of a host.
 *
 * @param from its path there
 * @param to where it is written here, in place of what is there
 * @param bytes how long it is
 * @throws HostProblem where the line is cut; Error where the file comes short, or cannot be written here
 */
export async function fetchFile(
  host: string,
  from: string,
  to: string,
  bytes: number,
): Promise<void> {
  const { child, ended } = startOn(host, commandOf(["exec", "cat", from]));
  child.stdin.end();
  const coming = `${to}.coming`;
  try {
    await pipeline(child.stdout, fs.createWriteStream(coming, { mode: 0o600 }));
    const end = await ended;
    if (end.status === null) throw new HostProblem(end.trouble.code, end.trouble.reason);
    const { size } = fs.statSync(coming);
    if (size < bytes)
      throw new Error(`Of ${bytes} bytes ${size} came from ${host}. ${end.complaint}`.trim());
    // What a login prints comes first.
    const start = size - bytes;
    if (start === 0) fs.renameSync(coming, to);
    else await pipeline(fs.createReadStream(coming, { start }), fs.createWriteStream(to));
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code !== "ENOSPC") throw error;
    throw new Error(`There is no room here for ${to}, which takes ${formatSize(bytes, 1000)}.`);
  } finally {
    child.kill();
    fs.rmSync(coming, { force: true });
  }
}
