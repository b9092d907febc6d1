import { claimWords } from "@/core/chain/claim";
import type { Judged } from "@/core/judge/judged";
import { tellVerdicts } from "@/core/judge/tell";
import { formatNumber, formatPercent, ratesIn } from "@/core/units/number";
import type { RateUnit } from "@/core/units/rate";
import type { Cell } from "../out/save";
import { MOST_ROWS, type Slide } from "../out/slide";

/** Every claim with its verdict, as a table that leaves the program. */
export function verdictRows(judged: readonly Judged[], unit: RateUnit): Cell[][] {
  const rates = ratesIn(unit);
  return [
    ["part", "claim", "verdict", "short by", "observed, MB/s"],
    ...judged.map(({ part, claim, kind, shortBy, observed }) => [
      part.name,
      claimWords(claim, rates),
      kind,
      shortBy,
      observed?.median ?? null,
    ]),
  ];
}

/** The verdicts of a study as a picture for a screen: claims that are missed first. */
export function verdictSlide(judged: readonly Judged[], unit: RateUnit, source: string): Slide {
  const rates = ratesIn(unit);
  const told = judged
    .filter(({ observed }) => observed)
    .toSorted((a, b) => (b.shortBy ?? -1) - (a.shortBy ?? -1));
  const sentence = tellVerdicts(judged);
  return {
    statement: sentence.charAt(0).toUpperCase() + sentence.slice(1),
    source,
    rows: told.slice(0, MOST_ROWS).map(({ part, claim, observed, shortBy }) => {
      const rate = "mbps" in claim ? observed!.median : null;
      const by = shortBy === null ? "" : ` −${formatPercent(shortBy)}`;
      return {
        name: `${part.name}, ${"direction" in claim ? claim.direction : ""}`.replace(/, $/, ""),
        figure: `${rate === null ? formatNumber(observed!.median) : rates.rate(rate)}${by}`,
        rate,
        ceiling: "mbps" in claim ? claim.mbps : null,
      };
    }),
  };
}
