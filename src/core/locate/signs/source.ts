import { formatPercent } from "../../units/number";
import type { Rig } from "../../chain/rig";
import type { Observation } from "../seen";
import type { Site } from "../site";
import { signature, type Sign, type Signature } from "./sign";

/** That a copy mostly waits for its source: what stands on that side holds it back, not the other. */
const waitsForSource = (source: readonly string[], goal: readonly string[]): Sign => ({
  chance: ({ parts }: Site) => {
    const on = (side: readonly string[]) =>
      parts.length > 0 && parts.every(({ id }) => side.includes(id));
    if (on(source) === on(goal)) return null;
    return on(source) ? 0.9 : 0.1;
  },
  otherwise: 0.5,
});

/** Of the time that either side waited, so much has to be one's. */
const MOSTLY = 0.7;

/** Where a copy between two ends of a rig waited. */
export function source({ rig, drill, results = [], measurementIds }: Observation): Signature[] {
  if (rig.other.length === 0) return [];
  const copies = results.flatMap(({ steps }) => steps.flatMap(({ copy }) => copy ?? []));
  const sum = (of: (copy: (typeof copies)[number]) => number) =>
    copies.reduce((all, copy) => all + of(copy), 0);
  const [from, to] = [sum((one) => one.waitedForFromMs), sum((one) => one.waitedForToMs)];
  const share = from / (from + to);
  if (!(share >= MOSTLY || share <= 1 - MOSTLY)) return [];
  const waits = share >= MOSTLY;
  const [here, there] = [rig.parts, rig.other].map((list: Rig["parts"]) =>
    list.map(({ id }) => id),
  ) as [string[], string[]];
  const sign =
    drill.direction === "read" ? waitsForSource(here, there) : waitsForSource(there, here);
  const text = `The copy waited for its ${waits ? "source" : "goal"} for ${formatPercent(waits ? share : 1 - share)} of the time that it stood still.`;
  return [signature(sign, rig, waits, { text, measurementIds })];
}
