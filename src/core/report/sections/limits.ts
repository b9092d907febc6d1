import { conditionRows } from "../../study/condition-rows";
import { counted } from "../../units/counted";
import { claimWords } from "../../chain/claim";
import { titleOf } from "../../drills/drill";
import { DOING } from "../../units/rate";
import { anchorOf, type Block, type Inline } from "../document";
import type { Matter } from "../matter";
import { originWords } from "../origins";

/** What a bench can be held to, and readers ask for where it is not said. */
const CONTROLLED = ["room temperature", "fan", "heatsink", "drive"];

/** What was not controlled, what to beware of, and which questions are open. */
export function limitsSection(matter: Matter): Block[] {
  const { seen, filed, judged, located, letter, answers, rates } = matter;
  const items: Inline[][] = [];
  const origins = originWords(seen.map(({ origin }) => origin));
  if (origins) items.push([origins]);
  const unsaid = CONTROLLED.filter((what) =>
    filed.measurements.every((one) => conditionRows(one).every((row) => row.what !== what)),
  );
  if (unsaid.length > 0) items.push([`Not controlled, or not written down: ${unsaid.join(", ")}.`]);
  const single = seen.filter(({ repeats }) => repeats.n === 1);
  if (single.length > 0)
    items.push([
      `Measured once only, and so without an interval: ${[...new Set(single.map(({ rig }) => letter(rig.id)))].join(", ")}.`,
    ]);
  const cautions = new Map<string, Inline[]>();
  for (const {
    rig,
    drill,
    cautions: all,
    measurementIds: [run],
  } of [
    ...seen,
    ...answers.flatMap(({ rigs }) => rigs.flatMap(({ observation }) => observation ?? [])),
  ])
    for (const caution of all) {
      const way = drill.direction === "mixed" ? "both ways" : DOING[drill.direction];
      const where = `${letter(rig.id)}, ${titleOf(drill)} ${way}`;
      const known = cautions.get(caution) ?? [`${caution}: `];
      if (!known.some((one) => typeof one !== "string" && one.text === where))
        known.push(...(known.length > 1 ? ["; "] : []), {
          text: where,
          ...(run ? { run: anchorOf(run) } : {}),
        });
      cautions.set(caution, known);
    }
  items.push(...[...cautions.values()].map((all) => all.slice(0, 12)));
  const open = judged.filter(({ kind }) => kind === "Can't tell yet");
  for (const { part, claim, settle } of open)
    items.push([
      `Whether ${part.name} keeps ${claimWords(claim, rates)} can’t be told yet${settle[0] ? `. Would settle it: ${settle[0].text.replace(/\.$/, "")}` : ""}.`,
    ]);
  for (const { rig } of located.filter(({ settled }) => !settled))
    items.push([`What limits rig ${letter(rig.id)} is open.`]);
  const unmeasured = filed.rigs.filter(({ id }) => seen.every(({ rig }) => rig.id !== id));
  if (unmeasured.length > 0)
    items.push([
      `${counted(unmeasured.length, "rig")} not measured: ${unmeasured.map(({ id }) => letter(id)).join(", ")}.`,
    ]);
  return items.length > 0
    ? [{ kind: "list", items }]
    : [{ kind: "prose", words: ["Nothing known."] }];
}
