import { COUNTING, OF_RUNS, type Question } from "./question";

export const measuredByMonth: Question = {
  name: "measured-by-month",
  title: "What did each host measure, month by month?",
  words: "Runs that count, by the host that measured them.",
  filters: [...OF_RUNS],
  sql: `WITH ${COUNTING}
SELECT c.host AS host, c.year AS year, c.month AS month,
  COUNT(*) AS runs,
  COUNT(DISTINCT c.rig_id) AS rigs,
  SUM(c.bytes) / 1000000000.0 AS moved_gb
FROM counting c
GROUP BY c.host, c.year, c.month
ORDER BY host, year, month`,
  columns: {
    host: { title: "Host", as: "text" },
    year: { title: "Year", as: "text" },
    month: { title: "Month", as: "text" },
    runs: { title: "Runs", as: "count" },
    rigs: { title: "Rigs", as: "count" },
    moved_gb: { title: "Moved, GB", as: "count" },
  },
  picture: { kind: "months", series: "host", value: "runs" },
};
