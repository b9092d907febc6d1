import { JUDGED_ENCLOSURES, latest, type Question } from "./question";

export const enclosureVerdicts: Question = {
  name: "enclosure-verdicts",
  title: "Which enclosures deliver their claims?",
  words:
    "The latest verdict on each claim of throughput. The lowest share of the claim stands first.",
  filters: ["words", "gbps", "direction", "simulated"],
  sql: `WITH ${JUDGED_ENCLOSURES},
latest_studies AS (
  ${latest("studies", "study_id")}
)
SELECT j.name AS enclosure, j.maker, j.model, j.chip, j.firmware, s.title AS study,
  j.kind, j.direction, j.verdict, j.claimed_mb_per_s, j.observed_mb_per_s, j.share_of_claim
FROM judged j
JOIN latest_studies s ON s.study_id = j.study_id AND s.latest_row = 1
ORDER BY j.share_of_claim, enclosure, study`,
  columns: {
    enclosure: { title: "Enclosure", as: "text" },
    maker: { title: "Maker", as: "text" },
    model: { title: "Model", as: "text" },
    chip: { title: "Bridge chip", as: "text" },
    firmware: { title: "Firmware", as: "text" },
    study: { title: "Study", as: "text" },
    kind: { title: "Claim", as: "text" },
    direction: { title: "Direction", as: "text" },
    verdict: { title: "Verdict", as: "text" },
    claimed_mb_per_s: { title: "Claimed", as: "rate" },
    observed_mb_per_s: { title: "Observed", as: "rate" },
    share_of_claim: { title: "Share of claim", as: "share" },
  },
  picture: { kind: "bars", label: ["enclosure", "kind", "direction"], value: "share_of_claim" },
};
