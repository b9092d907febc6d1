import { COUNTING, OF_RUNS, type Question } from "./question";

export const drivesOverTime: Question = {
  name: "drives-over-time",
  title: "Is a drive slower than it was?",
  words:
    "Each run is compared with the mean of all runs of the same drill through the same rig. 100 % is that mean.",
  filters: ["words", ...OF_RUNS],
  sql: `WITH ${COUNTING},
compared AS (
  SELECT c.rig_version, c.year, c.month,
    c.mean_mb_per_s / AVG(c.mean_mb_per_s) OVER (PARTITION BY c.rig_version, c.drill_json) AS share_of_usual,
    COUNT(*) OVER (PARTITION BY c.rig_version, c.drill_json) AS alike
  FROM counting c
  WHERE c.mean_mb_per_s > 0
)
SELECT p.name AS drive, c.year AS year, c.month AS month,
  COUNT(*) AS runs,
  MIN(c.share_of_usual) AS lowest_share,
  AVG(c.share_of_usual) AS mean_share,
  MAX(c.share_of_usual) AS highest_share
FROM compared c
JOIN rig_parts rp ON rp.rig_version = c.rig_version AND rp.side = 'chain'
JOIN parts p ON p.part_version = rp.part_version
WHERE p.kind = 'drive' AND c.alike > 1
  AND (:words = '' OR LOWER(p.name || ' ' || p.maker || ' ' || p.model || ' ' || p.tag) LIKE '%' || LOWER(:words) || '%')
GROUP BY p.name, c.year, c.month
ORDER BY drive, year, month`,
  columns: {
    drive: { title: "Drive", as: "text" },
    year: { title: "Year", as: "text" },
    month: { title: "Month", as: "text" },
    runs: { title: "Runs", as: "count" },
    lowest_share: { title: "Lowest", as: "share" },
    mean_share: { title: "Mean share of usual rate", as: "share" },
    highest_share: { title: "Highest", as: "share" },
  },
  picture: { kind: "months", series: "drive", value: "mean_share" },
};
