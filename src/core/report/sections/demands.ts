import { checkDemand } from "../../demand/check";
import { formatPercent } from "../../units/number";
import { DOING } from "../../units/rate";
import { words, type Block, type Cell } from "../document";
import type { Matter } from "../matter";

/** Which rigs meet what the drive is wanted for. */
export function demandsSection(matter: Matter): Block[] {
  const { filed, answers, rates } = matter;
  const { demands } = filed.study;
  const hauls = answers.filter(({ drill }) => drill === "haul");
  return demands.map((demand): Block => {
    const rows = filed.rigs.flatMap((rig, i): Cell[][] =>
      checkDemand(rig, demand, (direction) => {
        const answer = hauls.find((one) => one.direction === direction);
        return answer?.rigs[i]?.observation?.repeats ?? null;
      }).map(({ direction, need, fit, have, headroom }) => [
        words(`${matter.letter(rig.id)} ${rig.name}`),
        words(DOING[direction]),
        { text: rates.rate(need), value: need },
        { text: rates.rate(have), value: have },
        words(fit),
        { text: formatPercent(headroom), value: headroom },
      ]),
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
