import { modesOn, type Part } from "../../chain/part";
import { modesHolding } from "../../ledger/match";
import { modeOf, MODES } from "../../ledger/catalogue";
import { formatPercent, IN_MB, type RateWords } from "../../units/number";
import type { Direction } from "../../units/rate";
import type { Posterior } from "../posterior/posterior";
import { causesOf } from "../posterior/explanation";
import { SETTLED, type Explanation, type Located } from "../locate";
import type { Site } from "../hypotheses/site";
import { isState } from "../hypotheses/run-state";
import { tellState } from "../hypotheses/state-site";
import type { Trial } from "../likelihood/trial";

/** A sentence of evidence, and the runs it rests on. */
export interface Evidence {
  text: string;
  measurementIds: readonly string[];
}

/** Rates closer than this are the same for a sentence. */
const SAME = 0.12;
/** A sign that makes a cause so many times likelier, or less likely, is told. */
const SPEAKS = 1.3;
/** Sentences for or against one explanation. */
const MOST = 3;

/**
 * What speaks for and against an explanation: the rig's own run, and runs of other rigs in which the place
 * stands. A rig that another cause surely explains says nothing for this one.
 */
export function evidenceOn(
  explanation: Explanation,
  { posterior, trial: here, rig }: Located,
  rates: RateWords = IN_MB,
): { for: Evidence[]; against: Evidence[] } {
  const { site, kind } = explanation;
  const pro: Evidence[] = [];
  const contra: Evidence[] = [];
  const say = (list: Evidence[], text: string, one: Trial) =>
    list.push({ text, measurementIds: one.measurementIds });
  const isExplained = (one: Trial) => one !== here && isExplainedOtherwise(posterior, one, site);
  if (kind === "dropped-mode") {
    const told = tellMode(site!.parts[0]!, here, posterior.direction, rates);
    if (told) say(pro, told, here);
  }
  if (kind === "as-designed") {
    const share = formatPercent(here.median / here.ledger.most);
    const most = here.ledger.requests
      ? "what the ledger foresees of such requests, to a factor of about two at best"
      : "the most that the ledger attains";
    say(pro, `${rates.said(here.median)} is ${share} of ${most}.`, here);
  }
  if (site && isState(site.kind)) say(pro, tellState(rig, site.kind), here);
  for (const { text, factors, measurementIds } of posterior.signatures) {
    const own = factors.find((one) => one.site === site?.key && one.kind === kind);
    if (!own || !here.sites.some(({ key }) => key === own.site)) continue;
    const from = posterior.trials.find((one) =>
      one.measurementIds.some((id) => measurementIds.includes(id)),
    );
    if (own.factor > SPEAKS && from && isExplained(from)) continue;
    if (own.factor > SPEAKS) pro.push({ text, measurementIds });
    else if (own.factor < 1 / SPEAKS) contra.push({ text, measurementIds });
  }
  if (site) {
    if (allElseCarriedMore(posterior, here, site))
      say(
        pro,
        `All else in ${rig.name || "the rig"} has carried clearly more than ${rates.said(here.median)} in other rigs.`,
        here,
      );
    else if (pro.length === 0 && here.median < here.ledger.least)
      say(
        pro,
        `${rig.name || "The rig"}, with ${site.name}, gives ${rates.said(here.median)}; its links attain ${rates.said(here.ledger.least)} at least.`,
        here,
      );
    const others = posterior.trials
      .filter((one) => one !== here && one.sites.some(({ key }) => key === site.key))
      .toSorted((a, b) => shared(b, here) - shared(a, here));
    for (const one of others) {
      const ratio = one.median / here.median;
      const name = one.rig.name || one.rig.parts.map((part) => part.name).join(" · ");
      const gave = rates.said(one.median);
      // What its own ledger holds there stays there, whatever is in it.
      const couldMore = one.ledger.most > here.median * (1 + SAME);
      if (ratio > 1 + SAME) say(contra, `${name}, with ${site.name} too, carried ${gave}.`, one);
      else if (ratio > 1 - SAME && couldMore && !isExplained(one))
        say(pro, `${name}, with ${site.name} too, gave ${gave} as well.`, one);
    }
    if (posterior.trials.length === 1)
      say(
        contra,
        `Nothing but ${rig.name || "this rig"} was measured: it is only suspected.`,
        here,
      );
  }
  return { for: pro.slice(0, MOST), against: contra.slice(0, MOST) };
}

/** Which slower mode of a part's links a rate lies at; null where it lies at none. */
function tellMode(
  part: Part,
  { median, ledger }: Trial,
  direction: Direction,
  rates: RateWords,
): string | null {
  const own = [...modesOn(part, "up"), ...modesOn(part, "down")];
  const families = new Set(own.map((id) => modeOf(id).family));
  const modes = MODES.filter(({ family }) => families.has(family));
  // A slower mode keeps its usual protocol: another would be a second thing to suppose.
  const match = modesHolding(median, modes, direction).find(
    ({ mode, transport, high }) => mode.transports[0]!.id === transport && high < ledger.least,
  );
  return match && !ledger.requests
    ? `${rates.said(median)} lies where a ${match.mode.short} link does (${rates.rate(match.low)} to ${rates.said(match.high)}).`
    : null;
}

/** Whether something else than a place surely explains what a rig gave. */
function isExplainedOtherwise(posterior: Posterior, trial: Trial, site: Site | null): boolean {
  const at = posterior.trials.indexOf(trial);
  const places = new Map<string, number>();
  for (const cause of at < 0 ? [] : causesOf(posterior, at)) {
    const key = cause.site?.key ?? cause.kind;
    places.set(key, (places.get(key) ?? 0) + cause.probability);
  }
  return [...places].some(([key, sure]) => key !== site?.key && sure >= SETTLED);
}

/** Whether other rigs have carried clearly more with each part and condition of a rig but those of one place. */
function allElseCarriedMore({ trials }: Posterior, here: Trial, site: Site): boolean {
  const own = new Set([site.key, ...site.parts.map(({ id }) => `part ${id}`)]);
  const others = here.sites.filter(({ key, kind }) => kind !== "pairing" && !own.has(key));
  return others.every(({ key }) =>
    trials.some(
      (one) =>
        one.median > here.median * (1 + SAME) && one.sites.some((other) => other.key === key),
    ),
  );
}

const shared = (a: Trial, b: Trial) =>
  a.sites.filter(({ key }) => b.sites.some((other) => other.key === key)).length;
