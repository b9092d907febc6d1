import { checkDemand } from "../../demand/check";
import { shownBy } from "../../demand/shown";
import { formatPercent } from "../../units/number";
import type { Observation } from "../../study/measurement";
import { DOING, type Direction } from "../../units/rate";
import { anchorOf, words, type Block, type Cell } from "../document";
import type { Matter } from "../matter";

/** Which rigs meet what the drive is wanted for. */
export function demandsSection(matter: Matter): Block[] {
  const { filed, seen, rates } = matter;
  const { demands } = filed.study;
  return demands.map((demand): Block => {
    const rows = filed.rigs.flatMap((rig): Cell[][] => {
      const shown = (direction: Direction) => shownBy(seen, rig, direction);
      return checkDemand(rig, demand, shown).map(({ direction, need, fit, have, headroom }) => [
        words(`${matter.letter(rig.id)} ${rig.name}`),
        words(DOING[direction]),
        { text: rates.rate(need), value: need },
        { text: rates.rate(have), value: have, ...runOf(shown(direction).from[0] ?? null) },
        words(fit === "open" ? "open: a long run would tell" : fit),
        { text: formatPercent(headroom), value: headroom },
      ]);
    });
    return {
      kind: "table",
      table: {
        key: `demand-${demand.name}`,
        title: demand.name,
        note: `${rates.unit}, over the whole time: streams against what a long run sustained, copies by their time with the cache’s edge in it. Met and missed are measured; should and cannot follow from the ledger.`,
        columns: [
          { name: "rig" },
          { name: "direction" },
          ...["asked", "had"].map((name) => ({ name, figure: true })),
          { name: "met?" },
          { name: "headroom", figure: true },
        ],
        rows,
      },
    };
  });
}

const runOf = (seen: Observation | null): Pick<Cell, "run"> =>
  seen?.measurementIds[0] ? { run: anchorOf(seen.measurementIds[0]) } : {};
