import { latest, PART_FILTER, type Question } from "./question";

export const claimsDelivered: Question = {
  name: "claims-delivered",
  title: "What share of their claims did enclosures deliver, by bridge chip and firmware?",
  words:
    "The latest verdict on each claim of throughput, of enclosures with a chip and firmware alike.",
  filters: ["words", "gbps", "direction", "simulated"],
  sql: `WITH latest_verdicts AS (
  ${latest("verdicts", "study_id, part_id, claim")}
)
SELECT p.chip AS chip, p.firmware AS firmware,
  COUNT(DISTINCT v.part_id) AS enclosures,
  COUNT(*) AS claims,
  SUM(CASE WHEN v.verdict LIKE 'Falls short%' THEN 1 ELSE 0 END) AS falling_short,
  MIN(v.share_of_claim) AS lowest_share,
  AVG(v.share_of_claim) AS mean_share,
  MAX(v.share_of_claim) AS highest_share
FROM latest_verdicts v
JOIN parts p ON p.part_version = v.part_version
WHERE v.latest_row = 1 AND p.kind = 'enclosure' AND v.share_of_claim IS NOT NULL
  AND v.kind IN ('peak', 'sustained')
  AND (:simulated = 'yes' OR v.origin <> 'simulated')
  AND (:direction = '' OR v.direction = :direction)
  AND ${PART_FILTER}
GROUP BY p.chip, p.firmware
ORDER BY mean_share`,
  columns: {
    chip: { title: "Bridge chip", as: "text" },
    firmware: { title: "Firmware", as: "text" },
    enclosures: { title: "Enclosures", as: "count" },
    claims: { title: "Claims", as: "count" },
    falling_short: { title: "Fall short", as: "count" },
    lowest_share: { title: "Lowest", as: "share" },
    mean_share: { title: "Mean share of claim", as: "share" },
    highest_share: { title: "Highest", as: "share" },
  },
  picture: {
    kind: "bars",
    label: ["chip", "firmware"],
    value: "mean_share",
    low: "lowest_share",
    high: "highest_share",
  },
};
