import { COUNTING, OF_RUNS, type Question } from "./question";

export const stoodStill: Question = {
  name: "stood-still",
  title: "Through which rigs did the flow stand still?",
  words: "Samples in which nothing moved while the drill asked for data, as a share of that time.",
  filters: ["words", ...OF_RUNS],
  sql: `WITH ${COUNTING}
SELECT g.name AS rig, g.drive AS drive,
  COUNT(DISTINCT c.run_id) AS runs,
  SUM(t.still_ms) / 1000 AS still_seconds,
  SUM(t.still_ms) / SUM(t.sampled_ms) AS still_share
FROM steps t
JOIN counting c ON c.run_id = t.run_id
JOIN rigs g ON g.rig_version = c.rig_version
WHERE t.kind = 'flow' AND t.sampled_ms > 0
  AND (:words = '' OR LOWER(g.name || ' ' || g.drive || ' ' || COALESCE(g.enclosure, '')) LIKE '%' || LOWER(:words) || '%')
GROUP BY g.name, g.drive
HAVING SUM(t.still_ms) > 0
ORDER BY still_share DESC, still_seconds DESC, rig`,
  columns: {
    rig: { title: "Rig", as: "text" },
    drive: { title: "Drive", as: "text" },
    runs: { title: "Runs", as: "count" },
    still_seconds: { title: "Stood still", as: "seconds" },
    still_share: { title: "Share of time", as: "share" },
  },
  picture: { kind: "bars", label: ["rig"], value: "still_share" },
};
