import { claimWords } from "../chain/claim";
import { titleOf } from "../drills/drill";
import { counts } from "../study/measurement";
import { formatPercent } from "../units/number";
import { DOING } from "../units/rate";
import type { Earlier } from "./earlier";
import type { Matter } from "./matter";

/** How a study stands, as far as the next issue of its report is held against it. */
export function standOf({
  filed,
  seen,
  judged,
  rates,
}: Pick<Matter, "filed" | "seen" | "judged" | "rates">): Omit<Earlier, "number" | "issuedAt"> {
  return {
    runs: filed.measurements.flatMap(({ runs }) => runs.filter(counts).map(({ id }) => id)),
    rigs: filed.rigs.map(({ id, name }) => ({ id, name })),
    rates: Object.fromEntries(
      seen.map(({ rig, drill, repeats }) => [
        `${rig.name}, ${titleOf(drill)} ${drill.direction === "mixed" ? "both ways" : DOING[drill.direction]}`,
        repeats.median,
      ]),
    ),
    verdicts: Object.fromEntries(
      judged.map(({ key, part, claim, kind, shortBy }) => [
        key,
        {
          claim: `${part.name}, ${claimWords(claim, rates)}`,
          said: `${kind}${shortBy === null ? "" : ` by ${formatPercent(shortBy)}`}`,
        },
      ]),
    ),
  };
}
