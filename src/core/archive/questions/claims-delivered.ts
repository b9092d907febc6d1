import { JUDGED_ENCLOSURES, type Question } from "./question";

export const claimsDelivered: Question = {
  name: "claims-delivered",
  title: "What share of their claims did enclosures deliver, by bridge chip and firmware?",
  words:
    "The latest verdict on each claim of throughput, of enclosures with a chip and firmware alike.",
  filters: ["words", "gbps", "direction", "simulated"],
  sql: `WITH ${JUDGED_ENCLOSURES}
SELECT chip, firmware,
  COUNT(DISTINCT part_id) AS enclosures,
  COUNT(*) AS claims,
  SUM(CASE WHEN verdict LIKE 'Falls short%' THEN 1 ELSE 0 END) AS falling_short,
  MIN(share_of_claim) AS lowest_share,
  AVG(share_of_claim) AS mean_share,
  MAX(share_of_claim) AS highest_share
FROM judged
GROUP BY chip, firmware
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
