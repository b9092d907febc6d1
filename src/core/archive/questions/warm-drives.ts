import { COUNTING, OF_RUNS, type Question } from "./question";

export const warmDrives: Question = {
  name: "warm-drives",
  title: "How much slower do drives become when warm?",
  words:
    "Runs whose drive reported its temperature, by the highest one in steps of 10 °C. Sustained rate as a share of the best five seconds.",
  filters: ["words", ...OF_RUNS],
  sql: `WITH ${COUNTING},
warm AS (
  SELECT g.drive AS drive, FLOOR(c.hottest_celsius / 10) * 10 AS from_celsius,
    c.sustained_mb_per_s / c.burst_mb_per_s AS share_sustained
  FROM counting c
  JOIN rigs g ON g.rig_version = c.rig_version
  WHERE c.hottest_celsius IS NOT NULL AND c.burst_mb_per_s > 0
    AND (:words = '' OR LOWER(g.drive) LIKE '%' || LOWER(:words) || '%')
)
SELECT drive, from_celsius, COUNT(*) AS runs,
  MIN(share_sustained) AS lowest_share,
  AVG(share_sustained) AS mean_share,
  MAX(share_sustained) AS highest_share
FROM warm
GROUP BY drive, from_celsius
ORDER BY drive, from_celsius`,
  columns: {
    drive: { title: "Drive", as: "text" },
    from_celsius: { title: "From", as: "celsius" },
    runs: { title: "Runs", as: "count" },
    lowest_share: { title: "Lowest", as: "share" },
    mean_share: { title: "Mean share sustained", as: "share" },
    highest_share: { title: "Highest", as: "share" },
  },
  picture: {
    kind: "bars",
    label: ["drive", "from_celsius"],
    value: "mean_share",
    low: "lowest_share",
    high: "highest_share",
  },
};
