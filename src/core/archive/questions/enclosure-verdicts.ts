import { latest, PART_FILTER, type Question } from "./question";

export const enclosureVerdicts: Question = {
  name: "enclosure-verdicts",
  title: "Which enclosures deliver their claims?",
  words:
    "The latest verdict on each claim of throughput. The lowest share of the claim stands first.",
  filters: ["words", "gbps", "direction", "simulated"],
  sql: `WITH latest_verdicts AS (
  ${latest("verdicts", "study_id, part_id, claim")}
)
SELECT p.name AS enclosure, p.maker AS maker, p.model AS model, p.chip AS chip, p.firmware AS firmware,
  v.direction AS direction, v.verdict AS verdict,
  v.claimed_mb_per_s AS claimed_mb_per_s,
  v.observed_mb_per_s AS observed_mb_per_s,
  v.share_of_claim AS share_of_claim
FROM latest_verdicts v
JOIN parts p ON p.part_version = v.part_version
WHERE v.latest_row = 1 AND p.kind = 'enclosure' AND v.share_of_claim IS NOT NULL
  AND v.kind IN ('peak', 'sustained')
  AND (:simulated = 'yes' OR v.origin <> 'simulated')
  AND (:direction = '' OR v.direction = :direction)
  AND ${PART_FILTER}
ORDER BY share_of_claim, enclosure`,
  columns: {
    enclosure: { title: "Enclosure", as: "text" },
    maker: { title: "Maker", as: "text" },
    model: { title: "Model", as: "text" },
    chip: { title: "Bridge chip", as: "text" },
    firmware: { title: "Firmware", as: "text" },
    direction: { title: "Direction", as: "text" },
    verdict: { title: "Verdict", as: "text" },
    claimed_mb_per_s: { title: "Claimed", as: "rate" },
    observed_mb_per_s: { title: "Observed", as: "rate" },
    share_of_claim: { title: "Share of claim", as: "share" },
  },
  picture: { kind: "bars", label: ["enclosure", "direction"], value: "share_of_claim" },
};
