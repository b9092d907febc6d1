/**
 * npm run bench:locate: how well the part is found that holds a rig back, on made benches whose truth
 * is known, by following the next swap from the slow rig alone.
 *
 * Usage: npm run bench:locate [-- SEED] [--wrong]; N=1000 for fewer benches
 */
import { bundled } from "./bundled.mjs";

const { CAUSES, SMALL_CAUSES, makeBench, makeSmallBench, follow, judgeAlong, isFalse } =
  await bundled([
    "core/locate/testing/hidden-cause",
    "core/locate/testing/made-bench",
    "core/locate/testing/small-requests",
    "core/locate/testing/followed",
    "core/judge/testing/judged-bench",
  ]);

const seed = Number(process.argv[2] ?? 1) || 1;
const count = Number(process.env.N) || 2400;
const found = Array.from({ length: count }, (_, i) => {
  const one = follow(makeBench(seed * 100_000 + i));
  if (process.argv.includes("--each"))
    console.log(`${one.cause}, ${one.swaps} swaps, ${one.ms.toFixed(0)} ms`);
  return one;
});
const small = Array.from({ length: Math.ceil(count / 4) }, (_, i) =>
  follow(makeSmallBench(seed * 100_000 + i)),
);
const percent = (part, whole) => `${((100 * part) / Math.max(1, whole)).toFixed(1)} %`.padStart(8);
const median = (list) => list.toSorted((a, b) => a - b)[Math.floor(list.length / 2)] ?? NaN;
const row = (name, list) => {
  const right = list.filter((one) => one.right).length;
  const settled = list.filter((one) => one.settled);
  const wrong = settled.filter((one) => !one.right).length;
  const ratios = list.map(({ swaps, suspects }) => swaps / Math.log2(suspects));
  const mean = ratios.reduce((sum, ratio) => sum + ratio, 0) / Math.max(1, ratios.length);
  const each = median(
    list.map(({ swaps, explanations }) => swaps / Math.log2(Math.max(2, explanations))),
  );
  console.log(
    `${name.padEnd(26)}${String(list.length).padStart(5)}: ${percent(right, list.length)} right first, ${percent(settled.length, list.length)} settled, ${String(wrong).padStart(3)} settled wrongly, swaps in the median ${median(list.map(({ swaps }) => swaps))}: ${median(ratios).toFixed(2)} (mean ${mean.toFixed(2)}) x log2(places), ${each.toFixed(2)} x log2(explanations)`,
  );
};
for (const cause of CAUSES)
  row(
    cause,
    found.filter((one) => one.cause === cause),
  );
row("all", found);
console.log("of small requests:");
for (const cause of SMALL_CAUSES)
  row(
    cause,
    small.filter((one) => one.cause === cause),
  );
row("all", small);
for (const [name, list] of [
  ["large requests", found],
  ["small requests", small],
]) {
  console.log(`calibration, ${name}: where it said, it was right`);
  const named = list.flatMap((one) => one.said);
  for (let tenth = 0; tenth < 10; tenth++) {
    const here = named.filter(
      ({ probability }) => Math.min(9, Math.floor(probability * 10)) === tenth,
    );
    if (here.length < 50) continue;
    const mean = here.reduce((sum, { probability }) => sum + probability, 0) / here.length;
    const right = here.filter((one) => one.right).length;
    console.log(
      `  ${tenth * 10} to ${tenth * 10 + 10} %: said ${(100 * mean).toFixed(1)} %, right ${percent(right, here.length)} of ${here.length}`,
    );
  }
}
console.log(
  `${median(found.map(({ ms }) => ms)).toFixed(0)} ms for a whole bench in the median, ${Math.max(...found.map(({ ms }) => ms)).toFixed(0)} ms at most`,
);
const judged = Array.from({ length: count }, (_, i) =>
  judgeAlong(makeBench(seed * 100_000 + 50_000 + i)),
).filter((one) => one !== null);
const verdicts = judged.flatMap((one) =>
  one.verdicts.map((verdict) => ({ ...verdict, wrong: isFalse(one, verdict.kind), of: one })),
);
const said = (kind) => verdicts.filter((one) => one.kind === kind);
const told = verdicts.filter((one) => one.told);
console.log(
  `verdicts after each run on ${judged.length} claims: ${verdicts.length}, of them wrong ${verdicts.filter((one) => one.wrong).length} (${percent(verdicts.filter((one) => one.wrong).length, verdicts.length).trim()}); Delivers ${said("Delivers").length}, Falls short ${said("Falls short").length} (wrong ${said("Falls short").filter((one) => one.wrong).length}), in this combination ${said("Falls short in this combination").length}`,
);
console.log(
  `of ${told.length} that could be told from the runs, can't tell yet: ${percent(told.filter(({ kind }) => kind === "Can't tell yet").length, told.length).trim()}`,
);
if (process.argv.includes("--wrong"))
  for (const { kind, of } of verdicts.filter((one) => one.wrong))
    console.log(`false: ${kind}, seed ${of.seed}, ${of.keeps ? "keeps" : "breaks"} its claim`);
if (process.argv.includes("--wrong"))
  for (const { cause, seed: at, swaps, settled } of [...found, ...small].filter(
    (one) => !one.right,
  ))
    console.log(`wrong: ${cause}, seed ${at}, ${swaps} swaps, ${settled ? "settled" : "open"}`);
