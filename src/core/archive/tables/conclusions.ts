import { changing, maybe, moment, number, place, text } from "../column";

/** Tables of what Nerrit concluded, each from all runs of a study that there were. */

const writtenAt = moment("When it was concluded, UTC: the latest of a study holds");

export const findings = changing(
  "What limits a rig in one direction",
  ["study_id", "rig_id", "drill", "direction"],
  "finding_version",
  {
    finding_version: text("Digest of the finding: it changes when the finding does"),
    study_id: text("The study"),
    rig_id: text("The rig"),
    rig_version: text("The rig as it was"),
    drill: text("The drill that the finding is for"),
    direction: text("read or write"),
    kind: text("above ceiling, at bottleneck, below: how the rate lies to the rig's ceiling"),
    observed_mb_per_s: number("Median of its repeats"),
    ceiling_mb_per_s: number("Payload that its narrowest stage lets through"),
    efficiency_share: number("Observed rate as a share of that ceiling"),
    cause: maybe(text("What most likely limits the rig; empty where nothing does")),
    cause_kind: maybe(text("Kind of the cause, as-designed where the rig gives what it can")),
    part_id: maybe(text("The part that the cause is, where it is one part")),
    probability: maybe(number("Of that cause, from 0 to 1")),
    origin: text("measured, typed, imported or simulated: where its runs come from"),
    written_at: writtenAt,
  },
);

export const verdicts = changing(
  "Whether a part delivers a claim",
  ["study_id", "part_id", "claim"],
  "verdict_version",
  {
    verdict_version: text("Digest of the verdict: it changes when the verdict does"),
    study_id: text("The study"),
    part_id: text("The part"),
    part_version: text("The part as it was"),
    claim: place("Which claim of the part, from 0"),
    kind: text("peak, sustained, iops, or link for the class of its link"),
    direction: maybe(text("read or write; empty for a link")),
    verdict: text(
      "Delivers, Delivers in bursts only, Falls short (in this combination), Can't tell yet",
    ),
    claimed_mb_per_s: maybe(number("Claimed rate; empty for a link")),
    observed_mb_per_s: maybe(number("Median of the repeats that it rests on")),
    low_mb_per_s: maybe(number("Lower end of the 95 % confidence interval of their mean")),
    high_mb_per_s: maybe(number("Upper end of the 95 % confidence interval of their mean")),
    repeats: maybe(place("Repeats that it rests on")),
    share_of_claim: maybe(number("Observed rate as a share of the claimed")),
    rig_id: maybe(text("The rig that it rests on")),
    origin: maybe(text("measured, typed, imported or simulated: where its runs come from")),
    written_at: writtenAt,
  },
);
