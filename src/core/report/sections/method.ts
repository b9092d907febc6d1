import { textOf } from "../../drills/parameter";
import { capital } from "../../chain/wording";
import { kindOf, settingsOf, titleOf, drillKey, type Drill } from "../../drills/drill";
import { conditionRows } from "../../study/condition-rows";
import { counts } from "../../study/measurement";
import { counted } from "../../units/counted";
import { formatPercent } from "../../units/number";
import { DOING } from "../../units/rate";
import { words, type Block, type Cell } from "../document";
import type { Matter } from "../matter";

/** What was done, with all that was set of it, on which machine, and how far repeats lie apart. */
export function methodSection({ seen, filed, letter }: Matter): Block[] {
  const drills = [...new Map(seen.map(({ drill }) => [drillKey(drill), drill])).values()];
  if (drills.length === 0) return [{ kind: "prose", words: ["Nothing has been measured yet."] }];
  const runs = filed.measurements.flatMap(({ runs: all }) => all);
  const done = runs.filter(counts).length;
  const cvs = seen.flatMap(({ repeats: { cv, n } }) => (cv === null ? [] : [{ cv, n }]));
  const dof = cvs.reduce((sum, { n }) => sum + n - 1, 0);
  const floor = Math.sqrt(cvs.reduce((sum, { cv, n }) => sum + (n - 1) * cv ** 2, 0) / dof);
  const { tolerance, smallestEffect } = filed.study;
  return [
    {
      kind: "prose",
      words: [
        `${capital(counted(done, "run"))} of ${runs.length} count, on ${counted(filed.rigs.length, "rig")}. `,
        dof > 0
          ? `The noise floor of the bench is ${formatPercent(floor)}: the spread of repeats of one set-up, pooled over all (coefficient of variation, ${dof} degrees of freedom). `
          : "Nothing was repeated, so the noise floor of the bench is not known. ",
        `Differences below ${formatPercent(smallestEffect)} are of no interest here; a claim is kept from ${formatPercent(1 - tolerance)} of it on. `,
        "Rates are payload over the counted time; ceilings are what the standards of each link leave for payload.",
      ],
    },
    {
      kind: "table",
      table: {
        key: "drills",
        title: "Drills",
        note: "Everything that was set of them.",
        columns: ["drill", "what it does", "direction", "settings", "repeats"].map((name) => ({
          name,
        })),
        rows: drills.map((drill): Cell[] => [
          words(titleOf(drill)),
          words(kindOf(drill).what),
          words(drill.direction === "mixed" ? "both" : DOING[drill.direction]),
          words(settings(drill)),
          words(repeatsOf(drill, seen)),
        ]),
      },
    },
    ...conditions({ filed, letter }),
  ];
}

function settings(drill: Drill): string {
  const { parameters } = kindOf(drill);
  return Object.entries(settingsOf(drill))
    .flatMap(([name, value]) => {
      const parameter = parameters[name];
      return parameter && value !== null && value !== undefined
        ? [`${parameter.label}: ${textOf(parameter, value)}`]
        : [];
    })
    .join("; ");
}

function repeatsOf(drill: Drill, seen: Matter["seen"]): string {
  const all = seen
    .filter((one) => drillKey(one.drill) === drillKey(drill))
    .map(({ repeats }) => repeats.n);
  const [least, most] = [Math.min(...all), Math.max(...all)];
  return least === most ? String(most) : `${least} to ${most}`;
}

/** What was the same in every run is said once; what was not, rig by rig. */
function conditions({ filed, letter }: Pick<Matter, "filed" | "letter">): Block[] {
  const said = new Map<string, Map<string, Set<string>>>();
  for (const one of filed.measurements)
    for (const { what, value, passing } of conditionRows(one)) {
      if (passing) continue;
      const values = said.get(what) ?? new Map<string, Set<string>>();
      said.set(what, values.set(value, (values.get(value) ?? new Set()).add(letter(one.rigId))));
    }
  if (said.size === 0)
    return [{ kind: "prose", words: ["Nothing is known of the conditions of these runs."] }];
  return [
    {
      kind: "table",
      table: {
        key: "conditions",
        title: "Conditions",
        note: "As the system told them and the tester said them.",
        columns: [{ name: "condition" }, { name: "value" }, { name: "rigs" }],
        rows: [...said].flatMap(([what, values]) =>
          [...values].map(([value, rigs]): Cell[] => [
            words(what),
            words(value),
            words(values.size === 1 ? "all that say so" : [...rigs].join(", ")),
          ]),
        ),
      },
    },
  ];
}
