import type { Claim, JudgedClaim } from "../chain/claim";
import { allLinks, linkAccount, type Link } from "../chain/link";
import { modesOn, type Part } from "../chain/part";
import type { Rig } from "../chain/rig";
import { account } from "../ledger/account";
import { modeOf, MODES } from "../ledger/catalogue";
import type { LinkMode } from "../ledger/mode";
import { formatNumber, formatPercent, IN_MB } from "../units/number";
import { Direction, DOING } from "../units/rate";
import { gigabits, isOfClass } from "./class";
import type { Judged } from "./judged";
import { measureIt } from "./settle";
import type { Trials } from "./study-claims";
import { judgeClaim, type Grounds } from "./verdict";

const joins = ({ upper, cables, lower }: Link, part: Part) =>
  [upper, ...cables, lower].some(({ id }) => id === part.id);

type ClassVerdict = Omit<Judged, "key" | "part" | "claim" | "impossible">;

/**
 * A link class is delivered where a link of the part ran in a mode of that class and the rate of a run
 * through it lay in what such a link attains. The part falls short of it where its runs stay below that,
 * and what claims of throughput need for it shows that the part itself holds them there. What a slower
 * mode may have given too comes last.
 *
 * @param groundsOf what claims of throughput in a direction rest on
 */
export function judgeClass(
  part: Part,
  claim: Extract<Claim, { kind: "link" }>,
  trials: Trials,
  groundsOf: (direction: Direction) => Grounds,
): ClassVerdict {
  return (
    deliveredClass(part, claim, trials, true) ??
    missedClass(part, claim, trials, groundsOf) ??
    deliveredClass(part, claim, trials, false) ??
    openClass(part, claim, trials)
  );
}

/** @param sure whether only what no slower mode gives counts, where nobody saw how the link came up */
function deliveredClass(
  part: Part,
  { gbps }: Extract<Claim, { kind: "link" }>,
  { observations, rates = IN_MB }: Trials,
  sure: boolean,
): ClassVerdict | null {
  for (const seen of observations) {
    const { rig, drill, repeats, doubtful } = seen;
    if (doubtful || drill.direction === "mixed") continue;
    const direction: Direction = drill.direction;
    for (const link of allLinks(rig)) {
      const { mode } = link;
      if (!mode || !joins(link, part) || !isOfClass(mode, gbps)) continue;
      const { attainable, hardCeiling } = linkAccount(rig, link, mode, direction);
      if (repeats.median < attainable.low || repeats.median > hardCeiling) continue;
      if (sure && !link.settledBy && repeats.median <= mostBelow(mode, gbps, direction)) continue;
      return {
        kind: "Delivers",
        reasons: [
          `${rig.name} ran ${mode.name} and gave ${rates.said(repeats.median)} ${DOING[direction]}, which such a link attains (${rates.rate(attainable.low)} to ${rates.said(attainable.high)}).`,
        ],
        ...{ shortBy: null, settle: [], rig, seen, observed: repeats, challenge: [] },
      };
    }
  }
  return null;
}

/** The most that a mode of the same family and a lower class lets through, MB/s. */
const mostBelow = ({ family }: LinkMode, gbps: number, direction: Direction): number =>
  Math.max(
    0,
    ...MODES.filter((mode) => mode.family === family && !isOfClass(mode, gbps)).map(
      (mode) => account(mode, direction).hardCeiling,
    ),
  );

/** The least that a link of a class attains in each rig, held against its runs as a claim of throughput would be. */
function missedClass(
  part: Part,
  { gbps }: Extract<Claim, { kind: "link" }>,
  { rates = IN_MB }: Trials,
  groundsOf: (direction: Direction) => Grounds,
): ClassVerdict | null {
  const mode = slowestOfClass(part, gbps);
  if (!mode) return null;
  for (const direction of Direction.options) {
    const grounds = groundsOf(direction);
    const leasts = grounds.trials.map(({ rig }) => leastOf(part, mode, rig, direction));
    for (const least of new Set(leasts)) {
      if (least === null) continue;
      const trials = grounds.trials.filter((_, i) => leasts[i] === least);
      const claim: JudgedClaim = { kind: "peak", direction, mbps: least };
      const found = judgeClaim(part, claim, { ...grounds, trials });
      if (found.kind !== "Falls short") continue;
      const { rig, seen, observed, challenge, shortBy, reasons } = found;
      return {
        ...{ kind: "Falls short", shortBy, settle: [], rig, seen, observed, challenge },
        reasons: [
          `${rig!.name} reached ${rates.said(observed!.median)} ${DOING[direction]}, ${formatPercent(shortBy!)} under the ${rates.said(least)} that a link of ${formatNumber(gbps)} Gb/s (${mode.name}) attains at least.`,
          ...reasons.slice(1),
        ],
      };
    }
  }
  return null;
}

/** The slowest mode of a class that a part says its plug towards the host can run; null where it says none. */
function slowestOfClass(part: Part, gbps: number): LinkMode | null {
  const modes = modesOn(part, part.kind === "host-port" ? "down" : "up")
    .map(modeOf)
    .filter((mode) => isOfClass(mode, gbps));
  return modes.toSorted((a, b) => gigabits(a) - gigabits(b))[0] ?? null;
}

/** The least that a part's link in a rig would attain in a mode, by how it is driven, MB/s; null without such a link. */
function leastOf(part: Part, mode: LinkMode, rig: Rig, direction: Direction): number | null {
  const least = allLinks(rig)
    .filter((link) => joins(link, part) && link.mode?.family === mode.family)
    .map((link) => linkAccount(rig, link, mode, direction).attainable.low);
  return least.length > 0 ? Math.min(...least) : null;
}

function openClass(
  part: Part,
  { gbps }: Extract<Claim, { kind: "link" }>,
  { rigs }: Trials,
): ClassVerdict {
  const claimed = `${formatNumber(gbps)} Gb/s`;
  // A rig whose ledger says that the link of the part would run in that class is worth measuring.
  const able = rigs.find((rig) =>
    allLinks(rig).some((link) => link.mode && isOfClass(link.mode, gbps) && joins(link, part)),
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
    ...{ shortBy: null, rig: null, seen: null, observed: null, challenge: [] },
  };
}
