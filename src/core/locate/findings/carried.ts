import { stagesOf } from "../../chain/stages";
import type { Posterior } from "../posterior/posterior";
import { causesOf } from "../posterior/explanation";
import type { Site } from "../hypotheses/site";
import { RUN_STATES } from "../hypotheses/run-state";
import type { Trial } from "../likelihood/trial";

/** What one part, pairing or condition of a slow rig has been shown to carry, and may carry. */
export interface Carried {
  site: Site;
  /** The most that a run has shown it to let through, MB/s; null where none went through. */
  shown: { mbps: number; low: number; trial: Trial } | null;
  /** What the ledger lets through there, MB/s; null where it says nothing of it. */
  ceiling: number | null;
  /**
   * Cleared: has carried clearly more than the slow rig gives, or had time to spare in its runs. Suspect: has not. Untried: was never
   * seen without another suspect, so that nothing is known of it alone. Enough: nothing holds the rig
   * back, so that nobody is suspect; it has carried what was asked of it.
   */
  state: "cleared" | "suspect" | "untried" | "enough";
  /** Of one that is untried: the suspects that were with it in every run. */
  onlyWith: Site[];
  /** Of one that its own runs showed to have time to spare: what they showed, in a sentence. */
  idle: string | null;
}

/** The sign of each state, before the name of a part: it never depends on colour. */
export const STATE_SIGNS: Record<Carried["state"], string> = {
  cleared: "✓",
  suspect: "?",
  untried: "·",
  enough: "–",
};
/** Each state in words. */
export const STATE_WORDS: Record<Carried["state"], string> = {
  cleared: "cleared: has carried clearly more, or had time to spare",
  suspect: "suspect: has not carried more",
  untried: "only ever seen with another suspect",
  enough: "has carried what was asked of it",
};

/** What is as likely to hold the rig back is not cleared, however much a single run carried. */
const LIKELY = 0.4;
/** A rig that runs as designed has no suspects. */
const AS_DESIGNED = 0.95;
/** Clearly more is more than the noise of both, and than what interests nobody. */
const CLEAR = 0.03;

/**
 * The reach of everything in a slow rig, in the order of its chain: parts, then how they meet, then
 * conditions.
 *
 * @param slow one of the posterior's trials
 */
export function carriedIn(posterior: Posterior, slow: Trial): Carried[] {
  const { trials, direction } = posterior;
  const guilt = new Map<string, number>();
  let asDesigned = 0;
  for (const { kind, site, probability } of causesOf(posterior, trials.indexOf(slow))) {
    if (site) guilt.set(site.key, (guilt.get(site.key) ?? 0) + probability);
    if (kind === "as-designed") asDesigned += probability;
  }
  const order: Site["kind"][] = [
    "part",
    "pairing",
    "bay",
    ...RUN_STATES,
    "fileSystem",
    "transport",
    "host",
  ];
  const own = posterior.signatures.filter(({ measurementIds }) =>
    measurementIds.some((id) => slow.measurementIds.includes(id)),
  );
  const reaches = slow.sites.map((site): Carried => {
    const idle = own.find(({ clears = [] }) => clears.includes(site.key))?.text ?? null;
    const through = trials.filter(({ sites }) => sites.some(({ key }) => key === site.key));
    const [best] = through.toSorted((a, b) => lowOf(b) - lowOf(a));
    const carriedMore =
      best !== undefined &&
      lowOf(best) > slow.median &&
      best.median > slow.median * (1 + Math.max(CLEAR, 2 * Math.hypot(slow.noise, best.noise)));
    const cleared = (guilt.get(site.key) ?? 0) < LIKELY && (carriedMore || idle !== null);
    return {
      site,
      shown: best ? { mbps: best.median, low: lowOf(best), trial: best } : null,
      ceiling: ceilingOf(site, slow, direction),
      state: cleared ? "cleared" : asDesigned >= AS_DESIGNED ? "enough" : "suspect",
      onlyWith: [],
      idle: cleared && !carriedMore ? idle : null,
    };
  });
  const suspects = reaches.filter(({ state }) => state === "suspect");
  for (const one of suspects) {
    const with_ = trials.filter(({ sites }) => sites.some(({ key }) => key === one.site.key));
    const always = suspects.filter(
      (other) =>
        other !== one &&
        other.site.kind === "part" &&
        !one.site.parts.some((part) => other.site.parts.includes(part)) &&
        with_.every(({ sites }) => sites.some(({ key }) => key === other.site.key)),
    );
    if (always.length === 0) continue;
    one.state = "untried";
    one.onlyWith = always.map(({ site }) => site);
  }
  return reaches.toSorted((a, b) => order.indexOf(a.site.kind) - order.indexOf(b.site.kind));
}

/** The lower end of what a trial has shown, MB/s. */
const lowOf = ({ median, noise }: Trial) => median * Math.exp(-2 * noise);

function ceilingOf(
  { parts: [part], kind }: Site,
  { rig }: Trial,
  direction: Posterior["direction"],
) {
  if (kind !== "part") return null;
  const own = stagesOf(rig, direction).filter((stage) => stage.part.id === part!.id);
  return own.length > 0 ? Math.min(...own.map(({ ceiling }) => ceiling)) : null;
}
