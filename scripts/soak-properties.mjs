/**
 * npm run soak:properties: the properties held to cases that npm test does not draw.
 *
 * Usage: npm run soak:properties [-- ROUNDS]; each round has a seed of its own, said where one fails:
 * NERRIT_SEED=SEED npx vitest run --project unit draws the same cases again
 */
import { spawnSync } from "node:child_process";
import { readdirSync, readFileSync } from "node:fs";
import path from "node:path";
import { root } from "./prepare.mjs";

const rounds = Number(process.argv[2]) || 20;
const first = Date.now() % 2 ** 31;
const files = readdirSync(path.join(root, "src"), { recursive: true })
  .filter((file) => file.endsWith(".test.ts"))
  .map((file) => path.join("src", file))
  .filter((file) => readFileSync(path.join(root, file), "utf8").includes("fc.property"));
let failed = 0;
for (let round = 0; round < rounds; round++) {
  const seed = first + round;
  const { status, stdout } = spawnSync(
    process.execPath,
    [path.join(root, "node_modules/vitest/vitest.mjs"), "run", "--project", "unit", ...files],
    { cwd: root, env: { ...process.env, NERRIT_SEED: String(seed) }, encoding: "utf8" },
  );
  if (status !== 0) failed++;
  console.log(`seed ${seed}: ${status === 0 ? "all hold" : `failed\n${stdout}`}`);
}
console.log(`${rounds} rounds of the properties in ${files.length} files, ${failed} failed`);
process.exitCode = failed > 0 ? 1 : 0;
