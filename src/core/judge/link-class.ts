import type { Claim, JudgedClaim } from "../chain/claim";
import { allLinks, linkAccount, type Link } from "../chain/link";
import { modesOn, type Part } from "../chain/part";
import type { Rig } from "../chain/rig";
import { account } from "../ledger/account";
import { modeOf, MODES } from "../ledger/catalogue";
import type { LinkMode } from "../ledger/mode";
import type { Observation } from "../study/measurement";
import { formatNumber, formatPercent, IN_MB } from "../units/number";
import { Direction, DOING } from "../units/rate";
import { gigabits, isOfClass } from "./class";
import { drivenAsUsual, measureIt } from "./settle";
import type { Trials } from "./study-claims";
import { judgeClaim } from "./judge-claim";
import { scopeOf, type Grounds, type Judgement } from "./verdict";

const joins = ({ upper, cables, lower }: Link, part: Part) =>
  [upper, ...cables, lower].some(({ id }) => id === part.id);

/**
 * A link class is delivered where a link of the part ran in a mode of that class and the rate of a run
 * through it lay in what such a link attains. That it ran in that mode is known where somebody saw it,
 * or where no mode of a lower class lets so much through. The part falls short of it where its runs stay
 * below that, and what claims of throughput need for it shows that the part itself holds them there.
 *
 * @param groundsOf what claims of throughput in a direction rest on
 */
export function judgeClass(
  part: Part,
  claim: Extract<Claim, { kind: "link" }>,
  trials: Trials,
  groundsOf: (direction: Direction) => Grounds,
): Judgement {
  const inBand = runsInBand(part, claim, trials);
  const told = inBand.find(
    ({ link, seen, lower }) => isSeen(link, seen.rig) || isAbove(seen, lower),
  );
  return (
    (told && deliveredClass(told, trials)) ??
    missedClass(part, claim, trials, groundsOf) ??
    (inBand[0] ? unseenClass(claim, inBand[0], trials) : openClass(part, claim, trials))
  );
}

/** A run whose rate lies in what a link of the part attains in a mode of its class. */
interface InBand {
  link: Link & { mode: LinkMode };
  seen: Observation;
  direction: Direction;
  attainable: { low: number; high: number };
  /** The most that a mode of the same family and a lower class lets through, MB/s; 0 where there is none. */
  lower: number;
}

function runsInBand(
  part: Part,
  { gbps }: Extract<Claim, { kind: "link" }>,
  { observations }: Trials,
): InBand[] {
  return observations.flatMap((seen): InBand[] => {
    const { rig, drill, repeats, doubtful } = seen;
    if (doubtful || drill.direction === "mixed") return [];
    const direction: Direction = drill.direction;
    return allLinks(rig).flatMap((link) => {
      const { mode } = link;
      if (!mode || !joins(link, part) || !isOfClass(mode, gbps)) return [];
      const { attainable, hardCeiling } = linkAccount(rig, link, mode, direction);
      if (repeats.median < attainable.low || repeats.median > hardCeiling) return [];
      const lower = mostBelow(mode, gbps, direction);
      return [{ link: { ...link, mode }, seen, direction, attainable, lower }];
    });
  });
}

const isAbove = ({ repeats }: Observation, mbps: number) => repeats.median > mbps;

/** Whether it is known how a link came up, and not only what its ends and cables would agree on. */
const isSeen = ({ lower, mode }: Link, { settled = [] }: Rig) =>
  settled.some((one) => one.partId === lower.id && one.mode === mode?.id);

/** The most that a mode of the same family and a lower class lets through, MB/s. */
const mostBelow = ({ family }: LinkMode, gbps: number, direction: Direction): number =>
  Math.max(
    0,
    ...MODES.filter((mode) => mode.family === family && !isOfClass(mode, gbps)).map(
      (mode) => account(mode, direction).hardCeiling,
    ),
  );

const tell = (
  { link, seen: { rig, repeats }, direction, attainable }: InBand,
  { rates = IN_MB }: Trials,
) =>
  `${rig.name} ran ${link.mode.name} and gave ${rates.said(repeats.median)} ${DOING[direction]}, which such a link attains (${rates.rate(attainable.low)} to ${rates.said(attainable.high)}).`;

const deliveredClass = (found: InBand, trials: Trials): Judgement => ({
  kind: "Delivers",
  reasons: [tell(found, trials)],
  shortBy: null,
  settle: [],
  challenge: [],
  rig: found.seen.rig,
  seen: found.seen,
  observed: found.seen.repeats,
});

/** The least that a link of a class attains in each rig, held against its runs as a claim of throughput would be. */
function missedClass(
  part: Part,
  { gbps }: Extract<Claim, { kind: "link" }>,
  { rates = IN_MB }: Trials,
  groundsOf: (direction: Direction) => Grounds,
): Judgement | null {
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
      if (scopeOf(found.kind) === null) continue;
      const { kind, rig, seen, observed, challenge, shortBy, reasons, settle } = found;
      return {
        kind,
        shortBy,
        settle,
        rig,
        seen,
        observed,
        challenge,
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

/** A run in the band of a class that a link of a lower class may have given too, and nobody saw which it was. */
function unseenClass(
  { gbps }: Extract<Claim, { kind: "link" }>,
  { link, seen, direction, attainable, lower }: InBand,
  { rates = IN_MB }: Trials,
): Judgement {
  const { rig, repeats } = seen;
  const why = ": a link of a lower class gives less then";
  return {
    kind: "Can't tell yet",
    reasons: [
      `${rig.name} gave ${rates.said(repeats.median)} ${DOING[direction]}, which a link of ${formatNumber(gbps)} Gb/s attains (${rates.rate(attainable.low)} to ${rates.said(attainable.high)}). A link of a lower class may give it too (up to ${rates.said(lower)}), and no system reported the link’s mode.`,
    ],
    settle: [
      drivenAsUsual(rig, link, why, { shows: "peak", direction }) ?? {
        text: `Say of ${rig.name} at which mode the link to ${link.lower.name} came up, as its system reports it.`,
        ask: null,
      },
    ],
    shortBy: null,
    rig,
    seen,
    observed: repeats,
    challenge: [],
  };
}

function openClass(
  part: Part,
  { gbps }: Extract<Claim, { kind: "link" }>,
  { rigs }: Trials,
): Judgement {
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
    shortBy: null,
    rig: null,
    seen: null,
    observed: null,
    challenge: [],
  };
}
