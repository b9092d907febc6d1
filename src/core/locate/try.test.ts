import { it } from "vitest";
import { makeBench, CAUSES } from "./testing/made-bench";
import { locate, placesOf, type Observation } from "./locate";
it("x", () => {
  for (const [seed, c] of JSON.parse(process.env.CASES!) as [number, number][]) {
    const bench = makeBench(seed, CAUSES[c]!);
    console.log(
      "==== " + bench.cause,
      bench.slow.parts.map((p) => p.id + (p.limits.read ? "=" + p.limits.read : "")).join(" > "),
      "shelf",
      bench.shelf
        .slice(bench.slow.parts.length)
        .map((p) => p.id)
        .join(" "),
    );
    const seen: Observation[] = [bench.measure(bench.slow)];
    for (let i = 0; i < 8; i++) {
      const f = locate(seen, bench.shelf, ({ rig }) => rig === bench.slow)[0]!;
      console.log(
        seen.at(-1)!.repeats.median.toFixed(0),
        f.settled,
        placesOf(f.explanations)
          .slice(0, 6)
          .map(
            (p) =>
              `${p.explanations
                .map((e) => e.place)
                .filter((x, i, a) => a.indexOf(x) === i)
                .join("|")} ${(100 * p.probability).toFixed(0)}`,
          )
          .join("; "),
        f.explanations.some((e) => bench.right(e.at)),
      );
      const n = f.nextSwaps[0];
      if (f.settled || !n) {
        break;
      }
      console.log(
        "  ->",
        n.text,
        "from",
        n.rig.parts.map((p) => p.id).join(">"),
        n.bits.toFixed(2),
        "|",
        f.nextSwaps
          .slice(1, 4)
          .map((s) => `${s.text} ${s.bits.toFixed(2)}`)
          .join("; "),
      );
      seen.push(bench.measure({ ...n.rig, id: "s" + i }));
    }
  }
}, 60000);
