import { transportOn } from "../chain/link";
import type { Rig } from "../chain/rig";
import { TRANSPORT_NAMES } from "../ledger/account";
import { isDropOf, type Finding } from "../locate/finding";
import type { Standing } from "../locate/standing";
import type { Origin } from "../study/measurement";
import type { Repeats } from "../stats/repeats";
import { counted } from "../units/counted";
import { formatChance, formatPercent, IN_MB } from "../units/number";
import type { Direction } from "../units/rate";
import { doing, list, nameNarrows, say, type Segment } from "./wording";

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

/** What one rig's rate says of it by itself. */
export function tellRig(
  entry: Measured,
  finding: Finding,
  direction: Direction,
  rates = IN_MB,
): Segment[][] {
  const rate = `${rates.said(entry.observed.median)} ${doing(direction)}`;
  const ceiling = rates.said(finding.narrows.ceiling);
  const share = formatPercent(finding.efficiency);
  const gave = `Rig ${entry.letter} gave ${rate}`;
  const narrows = nameNarrows(finding.narrows)
    .map(({ text }) => text)
    .join("");
  switch (finding.kind) {
    case "at narrows":
      return [
        [
          say(`Rig ${entry.letter} is limited by `),
          ...nameNarrows(finding.narrows),
          say(`: ${rate}, ${share} of its ceiling of ${ceiling}${nearly(finding)}.`),
        ],
        ...heldLower(entry, finding),
      ];
    case "by protocol":
      return [
        [
          say(
            `${gave}, ${share} of the ${ceiling} that ${narrows} could carry: all that ${byProtocol(entry.rig, finding)}.`,
          ),
        ],
        ...heldLower(entry, finding),
      ];
    case "by requests":
      return [
        [
          say(
            `${gave} in small requests, ${share} of the ${ceiling} that ${narrows} could carry: what each request takes along the way decides, not the width of a link.`,
          ),
        ],
      ];
    case "above":
      return [
        [
          say(
            `${gave}, more than the ${ceiling} its narrows can carry: memory answered, or a link is not what was declared.`,
          ),
        ],
      ];
    case "below":
      if (isNearlyDesigned(entry)) {
        return [
          [
            say(
              `${gave}, ${share} of the ${ceiling} that ${narrows} could carry: a little less than good hardware attains there, and most likely nothing else is wrong.`,
            ),
          ],
        ];
      }
      return [
        [
          say(
            `${gave}, ${share} of the ${ceiling} that ${narrows} could carry: what holds it back is not in its ledger${finding.looksLike ? `, though the rate is that of a ${finding.looksLike.short} link` : ""}.`,
          ),
        ],
        ...leftOver(entry),
      ];
  }
}

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
const isNearlyDesigned = ({ standing }: Pick<Entry, "standing">): boolean =>
  standing?.likeliest?.kind === "as-designed" && standing.likeliest.probability >= LIKELY;

/** From here on a place is named. */
const LIKELY = 0.5;

/** Of a rate that the ledger does not explain: what holds the rig back, by all that was seen. */
export function leftOver({ letter, finding, standing }: Measured): Segment[][] {
  const likeliest = standing?.likeliest;
  if (finding?.kind !== "below" || !likeliest || likeliest.kind === "as-designed") return [];
  const { probability, kind } = likeliest;
  const name = `${likeliest.name}${orOthers(likeliest)}`;
  const sure = formatChance(probability);
  if (probability < LIKELY) return [[say(`What holds rig ${letter} back is not settled.`)]];
  if (kind === "nothing") return [[say(`Nothing on the list explains rig ${letter} (${sure}).`)]];
  const text = standing.settled
    ? `What holds rig ${letter} back is ${name} (${sure}).`
    : `Most likely ${name} holds rig ${letter} back (${sure}); it is not settled.`;
  return [[say(text)]];
}

const orOthers = ({ others }: NonNullable<Standing["likeliest"]>) =>
  others > 0 ? `, or ${counted(others, "other")} that this shelf cannot tell from it` : "";

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
