import { titleOf } from "../../drills/drill";
import { counts, settingsWords } from "../../study/measurement";
import { formatMicroseconds } from "../../units/number";
import { DOING, inUnit } from "../../units/rate";
import { anchorOf, words, type Block, type Cell } from "../document";
import type { Matter } from "../matter";

/** Every run that the report rests on, and those that it leaves out, with the reason. */
export function runsSection({ filed, letter, rates, day }: Matter): Block[] {
  const rows = filed.measurements.toReversed().flatMap((one) => {
    const way = one.drill.direction;
    return one.runs.map((run, i): Cell[] => {
      const { result } = run;
      return [
        {
          text: `${letter(one.rigId)} ${one.rig.name}`,
          ...(i === 0 ? { anchor: anchorOf(one.id) } : {}),
        },
        words(`${titleOf(one.drill)}, ${way === "mixed" ? "both ways" : DOING[way]}`),
        words(settingsWords(one)),
        words(String(run.repeat + 1)),
        words(one.createdAt.startsWith("1970") ? "–" : day(one.createdAt)),
        words(one.origin),
        result
          ? { text: rates.rate(result.meanMBps), value: inUnit(result.meanMBps, rates.unit) }
          : words("–"),
        result && result.latencyUs.p99 > 0
          ? { text: formatMicroseconds(result.latencyUs.p99), value: result.latencyUs.p99 }
          : words("–"),
        words(
          counts(run) && !one.warmUp
            ? "counts"
            : one.warmUp
              ? "to warm up"
              : (run.leftOut ?? run.status),
        ),
      ];
    });
  });
  return [
    {
      kind: "table",
      table: {
        key: "runs",
        title: "Runs",
        note: `In the order in which they were made; mean of each run, ${rates.unit}; p99: time of a request.`,
        columns: [
          ...["rig", "drill", "set", "repeat", "made", "origin"].map((name) => ({ name })),
          ...[rates.unit, "p99"].map((name) => ({ name, figure: true })),
          { name: "counts?" },
        ],
        rows,
      },
    },
  ];
}
