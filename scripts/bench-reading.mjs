/**
 * npm run bench:reading: how well traces are read whose truth is known, and how long a million samples
 * take. Prints what was wrong with --wrong.
 *
 * Usage: npm run bench:reading [-- SEED] [--wrong]
 */
import { bundled } from "./bundled.mjs";

const { assortment, heatAssortment, scoreEdges, scoreHeat, inWords, readTrace } = await bundled([
  "core/reading/testing/made-traces",
  "core/reading/testing/made-heat",
  "core/reading/testing/held-against-truth",
  "core/reading/read",
]);

const seed = Number(process.argv[2] ?? 1) || 1;
const { edges, all, flats } = scoreEdges(assortment(+process.env.N || 600, seed));
const heat = scoreHeat(heatAssortment(300, seed));
console.log(inWords("edge within 5 % of its bytes, drops of 25 % or more", edges, 0.95));
console.log(inWords("every edge, where there are two", all, 0.95));
console.log(inWords("flat traces without an invented edge", flats, 0.98));
console.log(inWords("heat, cache or neither told apart", heat, 0.95));
if (process.argv.includes("--wrong")) {
  for (const { wrong } of [edges, flats, heat]) console.log(wrong.join("\n"));
}

for (const count of [10_000, 100_000, 1_000_000]) {
  const samples = Array.from({ length: count }, (_, i) => ({
    from: i * 100,
    ms: i * 100 + 100,
    requests: 0,
    step: 0,
    target: 0,
    bytes: (i < 0.6 * count ? 1e8 : 4e7) * (0.9 + 0.2 * ((i * 0.618) % 1)),
    written: 0,
  })).map((sample) => ({ ...sample, written: sample.bytes }));
  const began = performance.now();
  const { cacheEdge } = readTrace({ samples });
  const ms = performance.now() - began;
  const edge = cacheEdge ? `edge at ${(cacheEdge.bytes / 1e12).toFixed(3)} TB` : "no edge";
  console.log(`${count} samples`.padEnd(52) + ` ${ms.toFixed(0)} ms, ${edge} (wanted: 1000 ms)`);
}
