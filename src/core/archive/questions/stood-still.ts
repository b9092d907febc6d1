import { COUNTING, OF_RUNS, type Question } from "./question";

export const stoodStill: Question = {
  name: "stood-still",
  title: "Through which rigs did the flow stand still?",
  words: "Samples in which nothing moved while the drill asked for data, as a share of that time.",
  filters: ["words", ...OF_RUNS],
  sql: `WITH ${COUNTING},
flows AS (
  SELECT s.run_id AS run_id, s.step AS step,
    SUM(s.until_ms - s.from_ms) AS all_ms,
    SUM(CASE WHEN s.bytes = 0 THEN s.until_ms - s.from_ms ELSE 0 END) AS still_ms
  FROM samples s
  GROUP BY s.run_id, s.step
)
SELECT g.name AS rig, g.drive AS drive,
  COUNT(DISTINCT c.run_id) AS runs,
  SUM(f.still_ms) / 1000 AS still_seconds,
  SUM(f.still_ms) / SUM(f.all_ms) AS still_share
FROM flows f
JOIN steps t ON t.run_id = f.run_id AND t.step = f.step AND t.kind = 'flow'
JOIN counting c ON c.run_id = f.run_id
JOIN rigs g ON g.rig_version = c.rig_version
WHERE f.all_ms > 0
  AND (:words = '' OR LOWER(g.name || ' ' || g.drive || ' ' || COALESCE(g.enclosure, '')) LIKE '%' || LOWER(:words) || '%')
GROUP BY g.name, g.drive
HAVING SUM(f.still_ms) > 0
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
