import path from "node:path";
import { z } from "zod";
import type { SystemReport } from "@/core/system/report";
import { probe } from "@/engine/probe/probe";
import { Refusal } from "@/engine/refusal";
import { checked, Problem } from "./problem";

/** Where the kernel's tree is read: this machine's, or a directory that stands in for it. */
const systemRoot = () => process.env.NERRIT_SYSTEM_ROOT || "/";

export const SystemQuery = z.object({
  path: z
    .string()
    .trim()
    .min(1, "name a directory on the drive, or its block device")
    .startsWith("/", "must be an absolute path, beginning with /")
    .max(4096),
});

/**
 * What the system knows of the way to a directory or block device.
 *
 * @throws Problem with a plain reason where there is no such thing
 */
export async function askSystem(input: unknown, root = systemRoot()): Promise<SystemReport> {
  const { path: target } = checked(SystemQuery, input);
  try {
    return await probe(path.resolve(target), path.resolve(root));
  } catch (error) {
    if (error instanceof Refusal) throw new Problem(422, error.message, [], error.code);
    throw error;
  }
}
