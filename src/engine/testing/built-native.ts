import fs from "node:fs";
import path from "node:path";
import type { Native } from "../lanes/native";

/** The compiled part of the engine as the build leaves it; null where there is no compiler. */
export function builtNative(): Native | null {
  const file = path.resolve(import.meta.dirname, "../../../dist/lanes.node");
  if (!fs.existsSync(file)) return null;
  const loaded = { exports: {} as Native };
  process.dlopen(loaded, file);
  return loaded.exports;
}
