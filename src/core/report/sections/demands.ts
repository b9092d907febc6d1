import { checkDemand } from "../../demand/check";
import { formatPercent } from "../../units/number";
import type { Observation } from "../../study/measurement";
import { DOING, type Direction } from "../../units/rate";
import { anchorOf, words, type Block, type Cell } from "../document";
import type { Matter } from "../matter";

/** Which rigs meet what the drive is wanted for. */
export function demandsSection(matter: Matter): Block[] {
  const { filed, answers, rates } = matter;
  const { demands } = filed.study;
  const hauls = answers.filter(({ drill }) => drill === "haul");
  return demands.map((demand): Block => {
    const seenOf = (i: number, direction: Direction) =>
      hauls.find((one) => one.direction === direction)?.rigs[i]?.observation ?? null;
    const rows = filed.rigs.flatMap((rig, i): Cell[][] =>
      checkDemand(rig, demand, (direction) => seenOf(i, direction)?.repeats ?? null).map(
        ({ direction, need, fit, have, headroom }) => [
          words(`${matter.letter(rig.id)} ${rig.name}`),
          words(DOING[direction]),
          { text: rates.rate(need), value: need },
          { text: rates.rate(have), value: have, ...runOf(seenOf(i, direction)) },
          words(fit),
          { text: formatPercent(headroom), value: headroom },
        ],
      ),
    );
    return {
      kind: "table",
      table: {
        key: `demand-${demand.name}`,
        title: demand.name,
        note: `Sustained, ${rates.unit}. Met and missed are measured; should and cannot follow from the ledger.`,
        columns: [
          ...[{ name: "rig" }, { name: "direction" }],
          ...["asked", "had"].map((name) => ({ name, figure: true })),
          ...[{ name: "met?" }, { name: "headroom", figure: true }],
        ],
        rows,
      },
    };
  });
}

const runOf = (seen: Observation | null): Pick<Cell, "run"> =>
  seen?.measurementIds[0] ? { run: anchorOf(seen.measurementIds[0]) } : {};
