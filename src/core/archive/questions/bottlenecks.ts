import { latest, PART_FILTER, type Question } from "./question";

export const bottlenecks: Question = {
  name: "bottlenecks",
  title: "Which parts limited the most rigs?",
  words:
    "The latest finding on each rig, where its most likely cause is one part with 50 % or more.",
  filters: ["words", "gbps", "direction", "simulated"],
  sql: `WITH latest_findings AS (
  ${latest("findings", "study_id, rig_id, drill, direction")}
),
newest_parts AS (
  ${latest("parts", "part_id")}
)
SELECT p.kind AS kind, p.name AS part,
  COUNT(DISTINCT f.rig_id) AS rigs,
  COUNT(DISTINCT f.study_id) AS studies,
  AVG(f.efficiency_share) AS share_of_ceiling,
  MAX(f.probability) AS highest_probability
FROM latest_findings f
JOIN newest_parts p ON p.part_id = f.part_id AND p.latest_row = 1
WHERE f.latest_row = 1 AND f.cause_kind <> 'as-designed' AND f.probability >= 0.5
  AND (:simulated = 'yes' OR f.origin <> 'simulated')
  AND (:direction = '' OR f.direction = :direction)
  AND ${PART_FILTER}
GROUP BY p.kind, p.name
ORDER BY rigs DESC, share_of_ceiling`,
  columns: {
    kind: { title: "Kind", as: "text" },
    part: { title: "Part", as: "text" },
    rigs: { title: "Rigs limited", as: "count" },
    studies: { title: "Studies", as: "count" },
    share_of_ceiling: { title: "Mean share of ceiling left", as: "share" },
    highest_probability: { title: "Highest probability", as: "share" },
  },
  picture: { kind: "bars", label: ["part"], value: "rigs" },
};
