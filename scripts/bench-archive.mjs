/**
 * npm run bench:archive: how long the ready questions take over an archive of a million runs with a hundred million
 * samples, 2 000 rigs and 20 000 parts, on three hosts over three years. The rows are drawn by the engine itself into
 * the layout that nerrit archive writes; figures of rates mean nothing.
 *
 * Usage: npm run bench:archive [-- RUNS SAMPLES_A_RUN]
 */
import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { DuckDBInstance } from "@duckdb/node-api";
import { bundled } from "./bundled.mjs";

const [runs = 1_000_000, samplesARun = 100] = process.argv.slice(2).map(Number);
const { ask, makeArchive, columnsOf, QUESTIONS, sqlOf, Filters } = await bundled([
  "archive/ask",
  "archive/folder",
  "core/archive/tables",
  "core/archive/questions/questions",
  "core/archive/questions/question",
]);

const PARTS = 20_000;
const RIGS = 2_000;
const STUDIES = 500;
const ENDED = "TIMESTAMP '2023-01-01' + to_minutes(CAST(i AS BIGINT) * 1576800 // " + runs + ")";
const HOST = "['desk', 'lab', 'field'][1 + i % 3]";

/** What the columns of a table hold that a question reads, of a row whose number is i; all others are empty. */
const TABLES = {
  parts: {
    rows: PARTS,
    part_version: "'p' || i",
    part_id: "'p' || i",
    kind: "['drive', 'enclosure', 'cable', 'host-port'][1 + i % 4]",
    name: "'Part ' || i",
    maker: "'Maker ' || i % 40",
    model: "'Model ' || i % 400",
    chip: "CASE WHEN i % 4 = 1 THEN 'Bridge ' || i % 60 ELSE '' END",
    firmware: "'1.' || i % 9",
    uplink_gb_per_s: "[5, 10, 20, 40][1 + i % 7 % 4]",
  },
  rigs: {
    rows: RIGS,
    rig_version: "'r' || i",
    rig_id: "'r' || i",
    name: "'Rig ' || i",
    host_port: "'Part ' || i * 4 + 3",
    drive: "'Part ' || i * 4",
    enclosure: "'Part ' || i * 4 + 1",
    read_ceiling_mb_per_s: "1000",
    write_ceiling_mb_per_s: "1000",
    read_bottleneck: "'link to the enclosure'",
    write_bottleneck: "'link to the enclosure'",
  },
  rig_parts: {
    rows: RIGS * 4,
    rig_version: "'r' || i // 4",
    rig_id: "'r' || i // 4",
    side: "'chain'",
    place: "i % 4",
    part_version: "'p' || i",
    part_id: "'p' || i",
  },
  studies: {
    rows: STUDIES,
    study_version: "'s' || i",
    study_id: "'s' || i",
    title: "'Study ' || i",
  },
  verdicts: {
    rows: PARTS / 2,
    verdict_version: "'v' || i",
    study_id: `'s' || i % ${STUDIES}`,
    part_id: "'p' || (i // 2 * 4 + 1)",
    part_version: "'p' || (i // 2 * 4 + 1)",
    claim: "i % 2",
    kind: "'peak'",
    direction: "['read', 'write'][1 + i % 2]",
    verdict: "'Delivers'",
    claimed_mb_per_s: "1000",
    observed_mb_per_s: "700 + 300 * random()",
    share_of_claim: "0.7 + 0.3 * random()",
    origin: "'measured'",
  },
  findings: {
    rows: RIGS * 2,
    finding_version: "'f' || i",
    study_id: `'s' || i % ${STUDIES}`,
    rig_id: "'r' || i // 2",
    rig_version: "'r' || i // 2",
    drill: "'haul'",
    direction: "['read', 'write'][1 + i % 2]",
    kind: "'at bottleneck'",
    part_id: "'p' || i // 2 * 4 + 1",
    cause: "'Part ' || i",
    cause_kind: "['cable', 'box', 'as-designed'][1 + i % 3]",
    efficiency_share: "random()",
    probability: "random()",
    origin: "'measured'",
  },
  conditions: { rows: runs, run_id: "'run ' || i", kernel: "'6.1'", io: "'direct'" },
  steps: {
    rows: runs,
    run_id: "'run ' || i",
    step: "0",
    kind: "'flow'",
    mean_mb_per_s: "900 * random()",
    sampled_ms: "5000",
    still_ms: "CASE WHEN i % 50 = 0 THEN 300 ELSE 0 END",
  },
  samples: {
    rows: runs * samplesARun,
    row: `n // ${samplesARun}`,
    run_id: "'run ' || i",
    sample: `n % ${samplesARun}`,
    from_ms: `n % ${samplesARun} * 100`,
    until_ms: `n % ${samplesARun} * 100 + 100`,
    bytes: "CAST(90000000 * random() AS BIGINT)",
    requests: "CAST(90 * random() AS BIGINT)",
  },
  runs: {
    rows: runs,
    run_id: "'run ' || i",
    measurement_id: "'m' || i // 3",
    study_id: `'s' || i % ${STUDIES}`,
    rig_id: `'r' || i % ${RIGS}`,
    rig_version: `'r' || i % ${RIGS}`,
    drill: "['haul', 'scatter'][1 + i % 2]",
    direction: "['read', 'write'][1 + i // 2 % 2]",
    drill_json: "'{}'",
    origin: "'measured'",
    status: "'done'",
    started_at: ENDED,
    mean_mb_per_s: "500 + 500 * random()",
    ceiling_mb_per_s: "1000",
    burst_mb_per_s: "1000",
    sustained_mb_per_s: "700 + 300 * random()",
    hottest_celsius: "40 + 40 * random()",
    start_celsius: "30 + 20 * random()",
    bytes: "5000000000",
    counted_ms: "5000",
  },
};

const folder = fs.mkdtempSync(path.join(os.tmpdir(), "nerrit-bench-archive-"));
try {
  makeArchive(folder);
  const began = performance.now();
  await draw();
  const mb = sizeOf(folder) / 1e6;
  console.log(
    `drawn in ${((performance.now() - began) / 1e3).toFixed(0)} s: ${runs} runs, ${runs * samplesARun} samples, ${mb.toFixed(0)} MB`,
  );
  for (const question of QUESTIONS) {
    const asked = performance.now();
    const { ms, rows } = await ask([folder], sqlOf(question, Filters.parse({})));
    const whole = performance.now() - asked;
    console.log(
      `${question.name.padEnd(24)} ${whole.toFixed(0).padStart(6)} ms, of it the engine's answer ${ms.toFixed(0).padStart(5)} ms; ${rows.length} rows`,
    );
  }
} finally {
  fs.rmSync(folder, { recursive: true, force: true });
}

/** Writes every table into its folders. */
async function draw() {
  const instance = await DuckDBInstance.create(":memory:", { memory_limit: "4GB" });
  const connection = await instance.connect();
  await connection.run("SET preserve_insertion_order = false");
  await connection.run("SET partitioned_write_max_open_files = 200");
  for (const [table, { rows, row = "n", ...given }] of Object.entries(TABLES)) {
    const columns = columnsOf(table).map(
      ([name, type]) => `CAST(${given[name] ?? usual(name, type)} AS ${type}) AS "${name}"`,
    );
    await connection.run(
      `COPY (SELECT ${columns.join(", ")} FROM (SELECT n, ${row} AS i FROM range(${rows}) t(n)))
        TO '${path.join(folder, table)}' (FORMAT parquet, COMPRESSION zstd, PARTITION_BY (year, month, host))`,
    );
  }
  connection.closeSync();
  instance.closeSync();
}

function usual(name, type) {
  if (name === "year") return `year(${ENDED})`;
  if (name === "month") return `month(${ENDED})`;
  if (name === "host") return HOST;
  if (type === "TIMESTAMP") return "TIMESTAMP '2026-01-01'";
  if (type === "BOOLEAN") return "false";
  if (name === "left_out") return "NULL";
  return type === "VARCHAR" ? "''" : "0";
}

function sizeOf(at) {
  return fs
    .readdirSync(at, { recursive: true, withFileTypes: true })
    .filter((entry) => entry.isFile())
    .reduce((sum, entry) => sum + fs.statSync(path.join(entry.parentPath, entry.name)).size, 0);
}
