import { capital, called, mark, say, type Segment } from "../chain/wording";
import { transportOn } from "../chain/link";
import { differences } from "../chain/difference";
import { TRANSPORT_NAMES } from "../ledger/account";
import { adverbOf, certaintyWords, chanceWords } from "../locate/findings/certainty";
import { otherCauses } from "../locate/findings/sentences";
import { counted } from "../units/counted";
import { formatChance, formatNumber, type RateWords } from "../units/number";
import { slowerModeOf, type CauseGroup } from "./cause-group";
import { comparedWith, ratesOf, rigsCalled, type Telling } from "./figures";
import { isMeasured, type LetteredRig, type MeasuredRig } from "./lettered-rig";

const measuredOf = (group: CauseGroup) => group.rigs.filter(isMeasured);

/** A driver mode without what is written beside it: "USB storage, unqueued". */
const driverOf = ({ rig, finding }: MeasuredRig): string =>
  TRANSPORT_NAMES[transportOn(rig, finding.through!)!].replace(/ \(.*\)/, "");

/** What a finding is, as the heading over its rigs. */
export function groupTitle(group: CauseGroup, telling: Telling): string {
  const { kind, rigs } = group;
  const [first] = rigs as [LetteredRig];
  const likeliest = first.standing?.likeliest;
  const subject = capital(likeliest?.subject ?? "");
  switch (kind) {
    case "impossible":
      return impossibleTitle(group);
    case "cause":
      return causeTitle(group, subject, telling);
    case "driver mode":
      return `${capital(driverOf(first as MeasuredRig))}, gets no more out of the link`;
    case "unseparated":
      return `Open: ${likeliest!.subject} or ${otherCauses(likeliest!.others)}`;
    case "open":
      return `Open: ${twoLikeliest(first)}`;
    case "unweighed":
      return "Below their ceiling, not looked at one by one";
    case "designed":
      return `At the limit of ${limitsOf(measuredOf(group))}, as designed`;
    case "unmeasured":
      return "Not measured yet";
  }
}

function causeTitle({ rigs }: CauseGroup, subject: string, telling: Telling): string {
  const measured = rigs.filter(isMeasured);
  const near = ratesOf(measured, telling);
  switch (rigs[0]!.standing!.likeliest!.kind) {
    case "dropped-mode":
      return `${subject} holds its link to ${slowerModeOf(rigs[0]!) ?? "a slower mode"}`;
    case "own-limit":
      return `${subject} has a limit of its own near ${near}`;
    case "fault":
      return `${subject} is at fault`;
    case "pairing":
      return `${subject} works badly`;
    default:
      return `${subject} limits the flow to ${near}`;
  }
}

/** The two likeliest causes of an open question: "cable K2 (46 %) or port A (31 %)". */
function twoLikeliest({ standing }: LetteredRig): string {
  const causes = [standing?.likeliest, standing?.second].filter(
    (one) => one !== null && one !== undefined,
  );
  return causes
    .map(({ subject, probability }) => `${subject} (${formatChance(probability)})`)
    .join(" or ");
}

/** Rates above their links' are known to be wrong by that; others by their repeats alone. */
export function impossibleTitle({ rigs, certainty }: CauseGroup): string {
  return rigs.some(({ finding }) => finding?.kind === "above")
    ? "More than the links carry"
    : `Memory ${certainty?.degree === "shown" ? "" : "may have "}answered`;
}

/** "their links", "its drive": what rigs that run as designed are limited by. */
function limitsOf(rigs: readonly MeasuredRig[]): string {
  const [whose, plural] = rigs.length === 1 ? ["its", ""] : ["their", "s"];
  if (rigs.every(({ finding }) => finding.kind === "by requests"))
    return "the time that each request takes";
  const links = rigs.filter(({ finding }) => finding.bottleneck.link !== null).length;
  if (links === rigs.length) return `${whose} link${plural}`;
  return links === 0 ? `${whose} drive${plural}` : "links and drives";
}

/**
 * A finding with its rigs, its figure and what that is compared with, in one sentence.
 *
 * @param isShort leaves out what it is compared with
 */
export function tellGroup(group: CauseGroup, telling: Telling, isShort = false): Segment[] {
  const { kind, certainty } = group;
  const measured = measuredOf(group);
  const [first] = measured;
  if (kind === "unmeasured" || !first)
    return [
      say(`${capital(rigsCalled(group.rigs))} ${areOne(group) ? "is" : "are"} not measured yet.`),
    ];
  const who = rigsCalled(measured);
  const rate = ratesOf(measured, telling);
  const compared = isShort ? "" : comparedWith(measured, telling);
  const aside = compared && `${compared},`;
  const likeliest = first.standing?.likeliest;
  const contrast = isShort ? null : contrastTo(first, telling);
  const does = telling.direction === "read" ? "read" : "write";
  switch (kind) {
    case "impossible":
      return tellImpossible(group, measured, telling);
    case "cause": {
      const isShown = certainty!.degree === "shown";
      const subject = capital(likeliest!.subject);
      return [
        isShown ? mark(subject) : say(subject),
        say(` ${adverbOf(certainty!)}limits ${who} to ${rate}${contrast ?? compared}.`),
      ];
    }
    case "driver mode":
      return [
        say(
          `The driver mode (${driverOf(first)}) ${adverbOf(certainty ?? SURE)}limits ${who} to ${rate}${contrast ?? compared}.`,
        ),
      ];
    case "unseparated":
      return [
        say(
          `What limits ${who} to ${rate}${aside} is open: ${likeliest!.subject} or ${otherCauses(likeliest!.others)}.`,
        ),
      ];
    case "open":
      return likeliest!.kind === "nothing"
        ? [say(`What limits ${who} to ${rate}${aside} is open: no known cause explains it.`)]
        : [say(`What limits ${who} to ${rate}${aside} is open: ${twoLikeliest(first)}.`)];
    case "unweighed":
      return tellUnweighed(measured, telling);
    case "designed":
      return [
        say(
          `${capital(who)} ${adverbOf(certainty ?? SURE)}${areOne(group) ? "runs" : "run"} as designed: ${areOne(group) ? "it" : "they"} ${does}${areOne(group) ? "s" : ""} ${rate}${compared}.`,
        ),
      ];
  }
}

/** What limits one rig of a group, in a sentence without its figure: that stands beside it. */
export function tellCause(group: CauseGroup, one: LetteredRig, rates: RateWords): string {
  const { kind, certainty } = group;
  const likeliest = one.standing?.likeliest;
  switch (kind) {
    case "impossible":
      return `${impossibleTitle({ ...group, rigs: [one] })}: the run of rig ${one.letter} does not count.`;
    case "cause":
      return `${capital(likeliest!.subject)} ${adverbOf(certainty!)}limits rig ${one.letter}.`;
    case "driver mode":
      return `The driver mode (${driverOf(one as MeasuredRig)}) ${adverbOf(certainty ?? SURE)}limits rig ${one.letter}.`;
    case "unseparated":
      return `What limits rig ${one.letter} is open: ${likeliest!.subject} or ${otherCauses(likeliest!.others)}.`;
    case "open":
      return `What limits rig ${one.letter} is open: ${twoLikeliest(one)}.`;
    case "unweighed":
      return `Rig ${one.letter} runs below its ceiling; Locate says what may limit it.`;
    case "designed":
      return isMeasured(one) && one.finding.kind !== "by requests"
        ? `As expected: ${tellBottleneck(one)
            .map(({ text }, i) => (i === 0 ? uncapital(text) : text))
            .join(
              "",
            )} ${adverbOf(certainty ?? SURE)}limits rig ${one.letter}, good hardware reaches ${rates.rate(one.finding.bottleneck.attainable.low)} to ${rates.said(one.finding.bottleneck.attainable.high)}.`
        : `As expected: the time that each request takes ${adverbOf(certainty ?? SURE)}limits the rate.`;
    case "unmeasured":
      return `Rig ${one.letter} is not measured yet.`;
  }
}

/** Without the capital of a sentence: of "The ...", "Cable ..." alone, as names keep theirs. */
const uncapital = (text: string): string =>
  /^(The|Cable) /.test(text) ? text.charAt(0).toLowerCase() + text.slice(1) : text;

const SURE = { degree: "shown", least: 1, most: 1 } as const;
const areOne = ({ rigs }: CauseGroup): boolean => rigs.length === 1;

function tellImpossible(
  { certainty }: CauseGroup,
  rigs: readonly MeasuredRig[],
  telling: Telling,
): Segment[] {
  const [first] = rigs as [MeasuredRig];
  const many = rigs.length > 1;
  const { bottleneck } = first.finding;
  const does = `${telling.direction === "read" ? "read" : "write"}${many ? "" : "s"}`;
  const through =
    first.finding.kind !== "above"
      ? ""
      : bottleneck.link?.mode
        ? ` through a ${bottleneck.link.mode.short} link`
        : ` where ${called(bottleneck.culprits[0]!)} allows ${telling.rates.rate(bottleneck.ceiling)}`;
  const sure =
    certainty && certainty.degree !== "shown"
      ? `${certainty.degree} (${chanceWords(certainty)}) `
      : "";
  return [
    say(
      `${capital(rigsCalled(rigs))} ${does} ${ratesOf(rigs, telling)}${through}: memory ${sure}answered, ${many ? "these runs do" : "this run does"} not count.`,
    ),
  ];
}

function tellUnweighed(rigs: readonly MeasuredRig[], telling: Telling): Segment[] {
  const [worst] = rigs as [MeasuredRig];
  const most = `${ratesOf([worst], telling)}${comparedWith([worst], telling)}`;
  if (rigs.length === 1) return [say(`What limits rig ${worst.letter} to ${most} is open.`)];
  const all = telling.rigs.filter(isMeasured).length;
  return [
    say(
      `${formatNumber(rigs.length)} of ${counted(all, "rig")} run below their ceiling; rig ${worst.letter} loses most, at ${most}.`,
    ),
  ];
}

/** The certainty beside a heading: "very likely, 93 %"; null where it says nothing uncertain. */
export function certaintyBeside({ kind, certainty }: CauseGroup): string | null {
  if (!certainty) return null;
  if (kind === "cause" || kind === "driver mode" || kind === "impossible")
    return certaintyWords(certainty);
  if (kind === "unseparated") return `open, together ${chanceWords(certainty)}`;
  return kind === "designed" && certainty.degree !== "shown" ? certaintyWords(certainty) : null;
}

/** What limits a rig that runs as designed, as the beginning of a sentence: "Cable K2 (5 Gb/s)". */
export function tellBottleneck({ finding: { bottleneck } }: MeasuredRig): Segment[] {
  const { link, culprits } = bottleneck;
  const [only, ...more] = culprits;
  if (!link?.mode) return [mark(capital(called(only!)))];
  if (only && more.length === 0) return [mark(capital(called(only))), say(` (${link.mode.short})`)];
  return [
    say("The "),
    mark(`${link.mode.short} link`),
    say(` from ${link.upper.name} to ${link.lower.name}`),
  ];
}

/** A faster rig that differs in the file system or the driver mode alone: "; on ext4 rig A reads 1 056 MB/s". */
function contrastTo(slow: MeasuredRig, telling: Telling): string | null {
  const others = telling.rigs
    .filter(isMeasured)
    .filter(({ observation }) => !observation.doubtful)
    .filter((one) => differsIn(slow, one) !== null)
    .toSorted((a, b) => b.observation.repeats.median - a.observation.repeats.median);
  const [fast] = others;
  if (!fast || fast.observation.repeats.median < slow.observation.repeats.median) return null;
  const how =
    differsIn(slow, fast) === "file system"
      ? `on ${fast.rig.fileSystem || "another file system"}`
      : "with the usual driver mode";
  const does = telling.direction === "read" ? "reads" : "writes";
  return `; ${how} rig ${fast.letter} ${does} ${ratesOf([fast], telling)}`;
}

function differsIn(a: MeasuredRig, b: MeasuredRig): "file system" | "driver mode" | null {
  const [change, ...more] = differences(a.rig, b.rig);
  const isOne = change && more.length === 0;
  return isOne && (change.kind === "file system" || change.kind === "driver mode")
    ? change.kind
    : null;
}
