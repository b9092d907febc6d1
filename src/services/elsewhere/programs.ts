import fs from "node:fs";
import path from "node:path";
import * as z from "zod";
import { Problem } from "../problem";

/** The programs that measure on other machines, as scripts/compile.mjs built them. */

const FOLDER = path.join(/* turbopackIgnore: true */ process.cwd(), "dist", "programs");

const System = z.enum(["windows", "macos", "linux"]);

const Programs = z.object({
  version: z.string(),
  built: z.array(
    z.object({ system: System, file: z.string(), bytes: z.number(), sha256: z.string() }),
  ),
  missing: z.array(z.object({ system: System, why: z.string() })),
});
export type Programs = z.infer<typeof Programs>;

/** Which programs there are, with size and digest, and which could not be built here, and why. */
export function programs(folder = FOLDER): Programs {
  try {
    const text = fs.readFileSync(path.join(/* turbopackIgnore: true */ folder, "programs.json"));
    return Programs.parse(JSON.parse(text.toString("utf8")));
  } catch {
    return { version: "", built: [], missing: [] };
  }
}

/** One of them. @throws Problem 404 where it was not built here */
export function programFile(
  system: string,
  folder = FOLDER,
): { name: string; bytes: Uint8Array<ArrayBuffer> } {
  const { built, missing } = programs(folder);
  const found = built.find((one) => one.system === system);
  if (!found) {
    const why = missing.find((one) => one.system === system)?.why ?? "no program was built";
    throw new Problem(404, `There is no program for ${system} here: ${why}.`);
  }
  const file = path.join(/* turbopackIgnore: true */ folder, path.basename(found.file));
  return { name: found.file, bytes: new Uint8Array(fs.readFileSync(file)) };
}
