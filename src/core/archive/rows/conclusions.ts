import type { StudyAnswer } from "../../answer/study";
import { isMeasured } from "../../answer/lettered-rig";
import type { Judged } from "../../judge/judged";
import type { Row } from "../tables";
import { claimedMBps, partVersion, rigVersion, type Writing } from "./gear";

/** What a row says, without the columns that say which row it is. */
type Said<T extends "findings" | "verdicts"> = Omit<
  Row<T>,
  "written_at" | "finding_version" | "verdict_version"
>;

/** Writes what limits each measured rig of a study, in one drill and direction. */
export function putFindings(
  studyId: string,
  { rigs, drill, direction }: StudyAnswer,
  { put, digest, at, place }: Writing,
): void {
  for (const { rig, observation, finding, standing } of rigs.filter(isMeasured)) {
    const likeliest = standing?.likeliest ?? null;
    const said: Said<"findings"> = {
      study_id: studyId,
      rig_id: rig.id,
      rig_version: rigVersion(rig, digest),
      drill,
      direction,
      kind: finding.kind,
      observed_mb_per_s: observation.repeats.median,
      ceiling_mb_per_s: finding.bottleneck.ceiling,
      efficiency_share: finding.efficiency,
      cause: likeliest?.name ?? null,
      cause_kind: likeliest?.kind ?? null,
      part_id: likeliest?.at && "part" in likeliest.at ? likeliest.at.part : null,
      probability: likeliest?.probability ?? null,
      origin: observation.origin,
    };
    put("findings", place, {
      finding_version: digest(JSON.stringify(said)),
      ...said,
      written_at: at,
    });
  }
}

/** Writes what each claim of a study's parts is worth. */
export function putVerdicts(
  studyId: string,
  judged: readonly Judged[],
  { put, digest, at, place }: Writing,
): void {
  for (const { key, part, claim, kind, observed, rig, seen } of judged) {
    const claimed = claimedMBps(claim);
    const said: Said<"verdicts"> = {
      study_id: studyId,
      part_id: part.id,
      part_version: partVersion(part, digest),
      claim: Number(key.slice(key.lastIndexOf(".") + 1)),
      kind: claim.kind,
      direction: claim.kind === "link" ? null : claim.direction,
      verdict: kind,
      claimed_mb_per_s: claimed,
      observed_mb_per_s: observed?.median ?? null,
      low_mb_per_s: observed?.interval?.low ?? null,
      high_mb_per_s: observed?.interval?.high ?? null,
      repeats: observed?.n ?? null,
      share_of_claim: observed && claimed ? observed.median / claimed : null,
      rig_id: rig?.id ?? null,
      origin: seen?.origin ?? null,
    };
    put("verdicts", place, {
      verdict_version: digest(JSON.stringify(said)),
      ...said,
      written_at: at,
    });
  }
}
