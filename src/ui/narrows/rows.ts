import type { LetteredRig } from "@/core/answer/lettered-rig";
import { stagesOf } from "@/core/chain/stages";
import { marksOf } from "@/core/locate/findings/finding";
import { inUnit, type Direction, type RateUnit } from "@/core/units/rate";
import type { Cell } from "../out/save";

/** The drawing as a table: a line for each stage of each rig, with what it can carry and what flowed. */
export function narrowsRows(
  rigs: readonly LetteredRig[],
  direction: Direction,
  unit: RateUnit,
): Cell[][] {
  const rate = (mbps: number) => Number(inUnit(mbps, unit).toPrecision(6));
  return [
    [
      "rig",
      "name",
      "stage",
      `ceiling, ${unit}`,
      `attained from, ${unit}`,
      `to, ${unit}`,
      `observed, ${unit}`,
      "marked",
      "state",
    ],
    ...rigs.flatMap((one) => {
      const { letter, rig, observation, standing, machine } = one;
      const marks = marksOf(one, direction);
      const seen = observation ? rate(observation.repeats.median) : null;
      const host: Cell[][] = machine
        ? [
            [
              letter,
              rig.name,
              `${machine.machine}, at least`,
              rate(machine.mbps),
              null,
              null,
              seen,
              null,
              null,
            ],
          ]
        : [];
      const parts = stagesOf(rig, direction).map(
        ({ key, label, part, ceiling, attainable }): Cell[] => [
          letter,
          rig.name,
          label,
          rate(ceiling),
          rate(attainable.low),
          rate(attainable.high),
          seen,
          !marks.stageKeys.includes(key)
            ? null
            : marks.predicted
              ? "predicted bottleneck"
              : "bottleneck",
          standing?.parts[part.id] ?? null,
        ],
      );
      return [...host, ...parts];
    }),
  ];
}
