/**
 * Says while a long step goes on how far it is, so that nobody takes it for stuck. It stands beside the step as
 * a process of its own, since the step keeps its own process from saying anything.
 *
 * Usage: node scripts/progress.mjs WHAT [--packages]     (--packages: counts what is installed)
 */
import { existsSync, readFileSync } from "node:fs";
import path from "node:path";

const root = path.resolve(import.meta.dirname, "..");
const [what, counting] = process.argv.slice(2);
const EVERY_MS = 5_000;
const parent = process.ppid;
const began = Date.now();
const names = counting === "--packages" ? packages() : [];

setInterval(() => {
  // The step's process is gone: so is what there was to say.
  if (process.ppid !== parent) process.exit(0);
  const seconds = Math.round((Date.now() - began) / 1000);
  const there = names.filter((name) => existsSync(path.join(root, name, "package.json"))).length;
  const far = names.length > 0 ? `, ${there} of ${names.length} packages` : "";
  console.error(`nerrit: ${what}: ${seconds} s${far} ...`);
}, EVERY_MS);

/** Every package that is to be installed, by its folder. */
function packages() {
  const lock = JSON.parse(readFileSync(path.join(root, "package-lock.json"), "utf8"));
  return Object.entries(lock.packages)
    .filter(([name, { optional }]) => name !== "" && !optional)
    .map(([name]) => name);
}
