import type { Claim } from "../chain/claim";
import { allLinks, linkAccount } from "../chain/link";
import type { Part } from "../chain/part";
import type { LinkMode } from "../ledger/mode";
import { formatNumber, IN_MB } from "../units/number";
import { DOING, type Direction } from "../units/rate";
import type { Judged } from "./judged";
import { measureIt } from "./settle";
import type { Trials } from "./study-claims";

/** Boxes print 10 Gb/s for a link that signals at 10.3125: a few percent are no other class. */
const ROUNDING = 0.05;

/** Signalling rate of a mode in its wider direction, Gb/s. */
const gigabits = ({ gigatransfers, lanes, lanesByDirection }: LinkMode) =>
  gigatransfers * Math.max(lanes, lanesByDirection?.read ?? 0, lanesByDirection?.write ?? 0);

/**
 * A link class is delivered where a link of the part ran in a mode of that class and the rate of a run
 * through it lay in what such a link attains.
 */
export function judgeClass(
  part: Part,
  { gbps }: Extract<Claim, { kind: "link" }>,
  { rigs, observations, rates = IN_MB }: Trials,
): Pick<Judged, "kind" | "reasons" | "settle" | "rig" | "seen" | "observed"> {
  const claimed = `${formatNumber(gbps)} Gb/s`;
  for (const seen of observations) {
    const { rig, drill, repeats, doubtful } = seen;
    if (doubtful || drill.direction === "mixed") continue;
    const direction: Direction = drill.direction;
    for (const link of allLinks(rig)) {
      const { mode } = link;
      const ends = [link.upper, ...link.cables, link.lower];
      if (!mode || !ends.some(({ id }) => id === part.id)) continue;
      if (gigabits(mode) < gbps * (1 - ROUNDING)) continue;
      const { attainable, hardCeiling } = linkAccount(rig, link, mode, direction);
      if (repeats.median < attainable.low || repeats.median > hardCeiling) continue;
      return {
        kind: "Delivers",
        reasons: [
          `${rig.name} ran ${mode.name} and gave ${rates.said(repeats.median)} ${DOING[direction]}, which such a link attains (${rates.rate(attainable.low)} to ${rates.said(attainable.high)}).`,
        ],
        ...{ settle: [], rig, seen, observed: repeats },
      };
    }
  }
  // A rig whose ledger says that the link of the part would run in that class is worth measuring.
  const able = rigs.find((rig) =>
    allLinks(rig).some(
      ({ mode, upper, cables, lower }) =>
        mode &&
        gigabits(mode) >= gbps * (1 - ROUNDING) &&
        [upper, ...cables, lower].some(({ id }) => id === part.id),
    ),
  );
  const text = `Measure ${part.name} in a rig whose other parts run ${claimed} too, with a drive that can fill it`;
  return {
    kind: "Can't tell yet",
    reasons: [`No run lay in what a link of ${claimed} attains.`],
    settle: [
      able
        ? measureIt(`${text}: ${able.name}.`, able, { shows: "peak", direction: "read" })
        : { text: `${text}.`, ask: null },
    ],
    ...{ rig: null, seen: null, observed: null },
  };
}
