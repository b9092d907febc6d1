import path from "node:path";
import * as z from "zod";
import { MOST_PASTED, reportsIn } from "@/core/system/pasted/pasted";
import type { SystemReport } from "@/core/system/system-report";
import { placeFrom, placeOnAnyHost, placeText } from "@/core/units/place";
import { thisMachine, type Machines } from "../hosts/machines";
import { checked, Problem } from "../problem";

const WHICH = "name a directory on the drive, or its block device";

/** A drive of this machine or a host by a path, or one of a text that another machine wrote. */
export const SystemQuery = z
  .object({
    path: placeOnAnyHost(WHICH).optional(),
    pasted: z
      .object({
        text: z.string().max(MOST_PASTED, "is longer than any report of drives"),
        /** Which of the drives in it. */
        drive: z.number().int().nonnegative().max(10_000),
      })
      .optional(),
  })
  .refine(({ path: target, pasted }) => (target === undefined) !== (pasted === undefined), {
    path: ["path"],
    error: WHICH,
  });

/** A stand-in below the project by its path there: where the project lies concerns nobody. */
function shownRoot(root: string): string {
  const below = path.relative(process.cwd(), root);
  return root === "/" || below.startsWith("..") ? root : below;
}

/** What a pasted text says of one of its drives. @throws Problem where it says nothing of such a drive */
function askText({ text, drive }: { text: string; drive: number }): SystemReport {
  try {
    const found = reportsIn(text)[drive];
    if (found) return found;
  } catch (error) {
    if (error instanceof RangeError) throw new Problem(422, error.message);
    throw error;
  }
  throw new Problem(422, "The text tells of fewer drives than that.");
}

/**
 * What a machine knows of the way to a directory or block device, or what a text says that was pasted.
 *
 * @throws Problem with a plain reason where there is no such thing
 */
export async function askSystem(
  input: unknown,
  machines: Machines = thisMachine(),
): Promise<SystemReport> {
  const { path: target, pasted } = checked(SystemQuery, input);
  if (pasted) return askText(pasted);
  const { host, path: asked } = placeFrom(target!);
  const { report } = await machines.ask(host, { ask: "system", path: path.posix.normalize(asked) });
  return { ...report, path: placeText({ host, path: report.path }), root: shownRoot(report.root) };
}
