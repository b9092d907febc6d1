import path from "node:path";
import * as z from "zod";
import type { SystemReport } from "@/core/system/report";
import { absolutePath } from "@/core/units/text";
import { probe } from "@/engine/probe/probe";
import { checked, unrefused } from "../problem";

/** Where the kernel's tree is read: this machine's, or a directory that stands in for it. */
export const systemRoot = () => process.env.NERRIT_SYSTEM_ROOT || "/";

export const SystemQuery = z.object({
  path: absolutePath("name a directory on the drive, or its block device"),
});

/** A stand-in below the project by its path there: where the project lies concerns nobody. */
function shownRoot(root: string): string {
  const below = path.relative(process.cwd(), root);
  return root === "/" || below.startsWith("..") ? root : below;
}

/**
 * What the system knows of the way to a directory or block device.
 *
 * @throws Problem with a plain reason where there is no such thing
 */
export async function askSystem(input: unknown, root = systemRoot()): Promise<SystemReport> {
  const { path: target } = checked(SystemQuery, input);
  const report = await unrefused(probe(path.resolve(target), path.resolve(root)));
  return { ...report, root: shownRoot(report.root) };
}
