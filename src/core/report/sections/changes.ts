import { counted } from "../../units/counted";
import { formatPercent } from "../../units/number";
import type { Block, Inline } from "../document";
import type { Earlier } from "../earlier";
import type { Matter } from "../matter";
import { standOf } from "../stand";

/** Medians closer than this are the same. */
const SAME = 0.001;

/** What is otherwise than in the issue before; nothing where there is none. */
export function changesSection(matter: Matter): Block[] {
  const { earlier, rates, day } = matter;
  if (!earlier) return [];
  const now = standOf(matter);
  const items: Inline[][] = [];
  const added = now.runs.filter((id) => !earlier.runs.includes(id)).length;
  const gone = earlier.runs.filter((id) => !now.runs.includes(id)).length;
  if (added > 0) items.push([`${counted(added, "run")} came in.`]);
  if (gone > 0) items.push([`${counted(gone, "run")} count no more.`]);
  items.push(...rigsChanged(earlier, now));
  for (const [key, mbps] of Object.entries(now.rates)) {
    const before = earlier.rates[key];
    if (before !== undefined && Math.abs(mbps / before - 1) > SAME)
      items.push([
        `${key}: ${rates.said(mbps)} instead of ${rates.said(before)} (${formatPercent(mbps / before - 1)}).`,
      ]);
  }
  for (const [key, { claim, said }] of Object.entries(now.verdicts)) {
    const before = earlier.verdicts[key];
    if (!before) items.push([`New: ${claim}: ${said}.`]);
    else if (before.said !== said) items.push([`${claim}: ${said}; it was: ${before.said}.`]);
  }
  return [
    {
      kind: "prose",
      words: [`Compared with issue ${earlier.number} of ${day(earlier.issuedAt)}:`],
    },
    { kind: "list", items: items.length > 0 ? items : [["Nothing changed in what it rests on."]] },
  ];
}

function rigsChanged(earlier: Earlier, now: Pick<Earlier, "rigs">): Inline[][] {
  const added = now.rigs.filter(({ id }) => earlier.rigs.every((one) => one.id !== id));
  const gone = earlier.rigs.filter(({ id }) => now.rigs.every((one) => one.id !== id));
  const names = (list: typeof added) => list.map(({ name }) => name).join(", ");
  return [
    ...(added.length > 0 ? [[`New: ${names(added)}.`]] : []),
    ...(gone.length > 0 ? [[`Taken out: ${names(gone)}.`]] : []),
  ];
}
