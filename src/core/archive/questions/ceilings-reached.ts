import { COUNTING, OF_RUNS, type Question } from "./question";

export const ceilingsReached: Question = {
  name: "ceilings-reached",
  title: "How much of their ceiling did rigs reach, by bottleneck link?",
  words:
    "Sequential runs (Haul), each as a share of what the narrowest stage of its rig lets through.",
  filters: [...OF_RUNS],
  sql: `WITH ${COUNTING}
SELECT CASE WHEN c.direction = 'read' THEN g.read_bottleneck ELSE g.write_bottleneck END AS bottleneck,
  c.ceiling_mb_per_s AS ceiling_mb_per_s,
  COUNT(DISTINCT c.rig_id) AS rigs,
  COUNT(*) AS runs,
  MIN(c.mean_mb_per_s / c.ceiling_mb_per_s) AS lowest_share,
  AVG(c.mean_mb_per_s / c.ceiling_mb_per_s) AS mean_share,
  MAX(c.mean_mb_per_s / c.ceiling_mb_per_s) AS highest_share
FROM counting c
JOIN rigs g ON g.rig_version = c.rig_version
WHERE c.drill = 'haul' AND c.ceiling_mb_per_s > 0
GROUP BY CASE WHEN c.direction = 'read' THEN g.read_bottleneck ELSE g.write_bottleneck END, c.ceiling_mb_per_s
ORDER BY mean_share`,
  columns: {
    bottleneck: { title: "Bottleneck", as: "text" },
    ceiling_mb_per_s: { title: "Ceiling", as: "rate" },
    rigs: { title: "Rigs", as: "count" },
    runs: { title: "Runs", as: "count" },
    lowest_share: { title: "Lowest", as: "share" },
    mean_share: { title: "Mean share of ceiling", as: "share" },
    highest_share: { title: "Highest", as: "share" },
  },
  picture: {
    kind: "bars",
    label: ["bottleneck", "ceiling_mb_per_s"],
    value: "mean_share",
    low: "lowest_share",
    high: "highest_share",
  },
};
