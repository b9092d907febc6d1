import { transportOn } from "../chain/link";
import type { Rig } from "../chain/rig";
import { TRANSPORT_NAMES } from "../ledger/account";
import { isDropOf, type Finding } from "../locate/findings/finding";
import type { Standing } from "../locate/findings/standing";
import type { Origin } from "../study/measurement";
import type { Repeats } from "../stats/repeats";
import { formatChance, formatPercent, IN_MB } from "../units/number";
import type { Direction } from "../units/rate";
import { doing, inRows, list, nameNarrows, say, span, type Segment } from "../chain/wording";

/** A rig of a study, its letter, and what was measured through it in one direction. */
export interface Entry {
  letter: string;
  rig: Rig;
  observed: Repeats | null;
  /** What that says of the rig; null where there is no run or no working link. */
  finding: Finding | null;
  /** What all runs together say of it; null where that was not worked out. */
  standing?: Standing | null;
  /** Which drill definition the repeats share; compared only with the same. */
  drill: string | null;
  /** Whether memory may have answered in the drive's place. */
  doubtful?: boolean;
  /** Where the runs come from; what was not measured is held against what was measured with a caution. */
  origin?: Origin;
}

export type Measured = Entry & { observed: Repeats };

/** How rigs are spoken of: one, or several that are told of together. */
interface Subject {
  /** "Rig B", "Rigs B, D and G to K". */
  who: string;
  /** The same within a sentence. */
  whom: string;
  many: boolean;
}

function subjectOf(alike: readonly Entry[]): Subject {
  const many = alike.length > 1;
  const letters = inRows(alike.map(({ letter }) => letter));
  return {
    who: `Rig${many ? "s" : ""} ${letters}`,
    whom: `rig${many ? "s" : ""} ${letters}`,
    many,
  };
}

/**
 * What the rate of one rig says of it by itself, or those of several of which the same is said (`alike`).
 *
 * @param alike at least one, each with a finding
 */
export function tellRigs(
  alike: readonly Measured[],
  direction: Direction,
  rates = IN_MB,
): Segment[][] {
  const [first] = alike as readonly [Measured];
  const finding = first.finding!;
  const { who, many } = subjectOf(alike);
  const medians = alike.map(({ observed }) => observed.median);
  const rate = `${span(medians, rates.rate, rates.said)} ${doing(direction)}`;
  const ceiling = rates.said(finding.narrows.ceiling);
  const share = shareOf(alike.map((one) => one.finding!.efficiency));
  const gave = `${who} gave ${rate}`;
  const narrows = nameNarrows(finding.narrows)
    .map(({ text }) => text)
    .join("");
  const ofWhat = `${share} of the ${ceiling} that ${narrows} could carry`;
  const one = (text: string): Segment[][] => [[say(text)]];
  switch (finding.kind) {
    case "at narrows":
      return [
        [
          say(`${who} ${many ? "are" : "is"} limited by `),
          ...nameNarrows(finding.narrows),
          say(
            `: ${rate}, ${share} of ${many ? "their" : "its"} ceiling of ${ceiling}${nearly(finding)}.`,
          ),
        ],
        ...heldLower(first, finding),
      ];
    case "by protocol":
      return [
        ...one(`${gave}, ${ofWhat}: all that ${byProtocol(first.rig, finding)}.`),
        ...heldLower(first, finding),
      ];
    case "by requests":
      return one(
        `${gave} in small requests, ${ofWhat}: what each request takes along the way decides, not the width of a link.`,
      );
    case "above":
      return one(
        `${gave}, more than the ${ceiling} ${many ? "their" : "its"} narrows can carry: memory answered, or a link is not what was declared.`,
      );
    case "below": {
      if (isNearlyDesigned(first))
        return one(
          `${gave}, ${ofWhat}: a little less than good hardware attains there, and most likely nothing else is wrong.`,
        );
      const looks = finding.looksLike
        ? `, though the rate is that of a ${finding.looksLike.short} link`
        : "";
      const what = many
        ? "what holds them back is not in their ledgers"
        : "what holds it back is not in its ledger";
      return [
        ...one(`${gave}, ${ofWhat}: ${what}${looks}.`),
        ...groupedBy(alike, placeOf).flatMap(leftOver),
      ];
    }
  }
}

/**
 * Rigs of which the same is said but for their figures, from three of a kind on: fewer are told of one
 * by one.
 *
 * @param measured rigs with a finding, in the order in which they are told of
 */
export function alike(measured: readonly Measured[]): Measured[][] {
  return groupedBy(measured, keyOf).flatMap((some) =>
    some.length < LEAST_TOGETHER ? some.map((one) => [one]) : [some],
  );
}

const LEAST_TOGETHER = 3;

export function groupedBy(
  all: readonly Measured[],
  keyOf: (one: Measured) => string,
): Measured[][] {
  const found = new Map<string, Measured[]>();
  for (const one of all) found.set(keyOf(one), [...(found.get(keyOf(one)) ?? []), one]);
  return [...found.values()];
}

function keyOf(entry: Measured): string {
  const finding = entry.finding!;
  const { narrows, near, through, looksLike, kind } = finding;
  const held =
    kind === "below" ? [isNearlyDesigned(entry), looksLike?.id] : heldLower(entry, finding);
  return JSON.stringify([
    kind,
    nameNarrows(narrows),
    narrows.ceiling,
    [...new Set(near)],
    held,
    through && byProtocol(entry.rig, finding),
  ]);
}

/** Who likeliest holds a rig back, where that is likely at all, and whether that is settled. */
export function placeOf({ standing }: Entry): string {
  const likeliest = standing?.likeliest;
  if (!likeliest) return "none";
  if (likeliest.probability < LIKELY) return "";
  return `${likeliest.kind} ${likeliest.name} ${standing.settled}`;
}

/** "88 to 91 %". */
export const shareOf = (shares: readonly number[]) => span(shares, formatPercent, formatPercent);

/** Why a rig's rate is what it is, to follow the rate in a sentence. */
export function because({ rig, finding, standing }: Entry): string {
  if (!finding) return "";
  const share = formatPercent(finding.efficiency);
  const { mode } = finding.narrows.link ?? {};
  switch (finding.kind) {
    case "at narrows": {
      const what = mode
        ? `just what a ${mode.short} link attains`
        : "just what its own limit allows";
      return `, ${what} (${share} of its ceiling)`;
    }
    case "by protocol":
      return `, all that ${byProtocol(rig, finding)}`;
    case "by requests":
      return `, in small requests, of which each takes its time`;
    case "above":
      return `, which is more than the rig’s ledger allows`;
    case "below": {
      if (isNearlyDesigned({ standing }))
        return `, ${share} of the lowest ceiling in its ledger, a little less than good hardware attains`;
      const looks = finding.looksLike ? `; it looks like a ${finding.looksLike.short} link` : "";
      return `, ${share} of the lowest ceiling in its ledger, which does not explain it${looks}`;
    }
  }
}

/** Which protocol gets no more out of which link, in words. */
function byProtocol(rig: Rig, { through }: Finding): string {
  const protocol = through && transportOn(rig, through);
  return `${protocol ? TRANSPORT_NAMES[protocol] : "the protocol"} gets out of a ${through?.mode?.short} link`;
}

/** Whether all runs together say that a rate below its ledger is just what the ledger allows. */
export const isNearlyDesigned = ({ standing }: Pick<Entry, "standing">): boolean =>
  standing?.likeliest?.kind === "as-designed" && standing.likeliest.probability >= LIKELY;

/** From here on a place is named. */
const LIKELY = 0.5;

/** Of rates that the ledger does not explain: what holds the rigs back, by all that was seen. */
export function leftOver(alike: readonly Measured[]): Segment[][] {
  const [{ finding, standing }] = alike as readonly [Measured];
  const { whom } = subjectOf(alike);
  const likeliest = standing?.likeliest;
  if (finding?.kind !== "below" || !likeliest || likeliest.kind === "as-designed") return [];
  const { probability, kind } = likeliest;
  const name = `${likeliest.name}${orOthers(likeliest)}`;
  const chances = alike.map((one) => one.standing!.likeliest!.probability);
  const sure = span(chances, formatChance, formatChance);
  if (probability < LIKELY) return [[say(`What holds ${whom} back is not settled.`)]];
  if (kind === "nothing") return [[say(`Nothing on the list explains ${whom} (${sure}).`)]];
  const text = standing.settled
    ? `What holds ${whom} back is ${name} (${sure}).`
    : `Most likely ${name} holds ${whom} back (${sure}); it is not settled.`;
  return [[say(text)]];
}

const orOthers = ({ others }: NonNullable<Standing["likeliest"]>) =>
  others > 0
    ? ` or ${others === 1 ? "another" : `one of ${others} others`} that this shelf cannot tell from it`
    : "";

/** Of a narrows that is a link below what its parts share: what most likely holds it there. */
function heldLower({ standing }: Entry, { narrows, through }: Finding): Segment[][] {
  const link = through ?? narrows.link;
  const likeliest = standing?.likeliest;
  if (!link?.negotiated || !likeliest || !isDropOf(link, likeliest.at)) return [];
  const { probability } = likeliest;
  const name = `${likeliest.name}${orOthers(likeliest)}`;
  const sure = formatChance(probability);
  const all = `All its parts say ${link.negotiated.short}`;
  return [
    [
      say(
        standing.settled
          ? `${all}; what holds it lower is ${name} (${sure}).`
          : `${all}; what holds it lower is not settled: most likely ${name} (${sure}).`,
      ),
    ],
  ];
}

/** Says so where the rig has other places nearly as narrow. */
function nearly({ near }: Finding): string {
  const names = [...new Set(near)];
  if (names.length === 0) return "";
  return `, with ${list(names)} nearly as narrow`;
}
