/**
 * npm run soak:files: damaged files are refused in words. Takes files of studies (as JSON and as a bundle with traces),
 * a backup and an archive, changes each of them in ten thousand ways (bits, cuts, zeros, pieces of the file in another
 * place), and reads every one in a process whose memory is watched. Exits with 1 where one ends the process, is
 * refused in no words of Nerrit's, or takes more memory than it may.
 *
 * Usage: npm run soak:files [-- FILES_OF_A_KIND [SEED]]
 */
import { fork } from "node:child_process";
import { once } from "node:events";
import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { fileURLToPath } from "node:url";
import { bundled } from "./bundled.mjs";
import { root } from "./prepare.mjs";

const SELF = fileURLToPath(import.meta.url);
const MIGRATIONS = path.join(root, "src/store/migrations");
/** Files that one process reads: what it takes ends with it. */
const BATCH = 250;
/** Memory that reading a damaged file may take, bytes: the heap of a page's thread, and the engine's limit. */
const MOST_BYTES = 2e9;
const KINDS = ["study.json", "study.zip", "backup", "archive"];

if (process.send) await readBatch(JSON.parse(process.argv[2]));
else await soak(Number(process.argv[2]) || 10_000, Number(process.argv[3]) || Date.now() % 2 ** 31);

async function soak(count, seed) {
  const folder = fs.mkdtempSync(path.join(os.tmpdir(), "nerrit-soak-files-"));
  let failed = 0;
  try {
    await lay(folder);
    for (const kind of KINDS) {
      const told = { taken: 0, refused: 0, wrong: [], peak: 0 };
      for (let from = 0; from < count; from += BATCH) {
        const order = { folder, kind, seed, from, count: Math.min(BATCH, count - from) };
        const batch = await inProcess(order);
        told.taken += batch.taken;
        told.refused += batch.refused;
        told.wrong.push(...batch.wrong);
        told.peak = Math.max(told.peak, batch.peak);
      }
      const isTooMuch = told.peak > MOST_BYTES;
      failed += told.wrong.length + Number(isTooMuch);
      console.log(
        `${kind}: ${told.refused} refused in words, ${told.taken} taken, ${told.wrong.length} wrong, memory at most ${(told.peak / 1e6).toFixed(0)} MB`,
      );
      for (const one of told.wrong.slice(0, 5)) console.log(`  ${one}`);
    }
  } finally {
    fs.rmSync(folder, { recursive: true, force: true });
  }
  console.log(`seed ${seed}: ${failed === 0 ? "all hold" : `${failed} failed`}`);
  process.exitCode = failed > 0 ? 1 : 0;
}

/** Lays out what is damaged: the sample studies, saved, backed up and archived. */
async function lay(folder) {
  const { openDemo, saveStudy, backUp, ArchiveWriter, gather } = await bundled([
    "services/testing/demo-store",
    "services/studies/save-study",
    "store/backup",
    "archive/writer",
    "services/archive/gather",
  ]);
  const data = path.join(folder, "data");
  fs.mkdirSync(data);
  const store = openDemo(data);
  for (const id of ["demo-first", "demo-day"]) {
    const { bytes, kind } = saveStudy(store, id);
    fs.writeFileSync(path.join(folder, `study.${kind}`), bytes);
  }
  const writer = await ArchiveWriter.open(path.join(folder, "archive"), "bench", "soak");
  const at = "2026-12-01T00:00:00.000Z";
  await gather(store, writer, { samples: true, host: "desk", at }, () => undefined);
  await writer.finish();
  writer.close();
  store.$client.close();
  await backUp(path.join(data, "nerrit.sqlite"), path.join(folder, "backup"));
}

/** Reads a batch in a process of its own. One that ends by itself is wrong at the file that it was at. */
async function inProcess(order) {
  const child = fork(SELF, [JSON.stringify(order)], { execArgv: ["--max-old-space-size=1024"] });
  let told = { taken: 0, refused: 0, wrong: [], peak: 0 };
  child.on("message", (message) => (told = message));
  const [status, signal] = await once(child, "exit");
  if (status !== 0)
    told.wrong.push(
      `the process ended (${signal ?? status}) at file ${told.at} of seed ${order.seed}`,
    );
  return told;
}

async function readBatch({ folder, kind, seed, from, count }) {
  const { seeded } = await bundled(["core/simulate/noise"]);
  const read = await reader(kind, folder);
  const whole = fs.readFileSync(kind === "archive" ? read.file : path.join(folder, kind));
  const told = { taken: 0, refused: 0, wrong: [], peak: 0, at: from };
  for (let n = from; n < from + count; n++) {
    told.at = n;
    process.send(told);
    try {
      await read(damaged(whole, seeded(seed + n)));
      told.taken += 1;
    } catch (error) {
      if (/Problem$/.test(error.name) && error.message.length > 10) told.refused += 1;
      else
        told.wrong.push(
          `file ${n} of seed ${seed}: ${error.stack?.split("\n").slice(0, 3).join(" ")}`,
        );
    }
    told.peak = Math.max(told.peak, process.memoryUsage().rss);
  }
  process.send(told);
  process.disconnect();
}

/** How a file of a kind is read, as Nerrit reads it. */
async function reader(kind, folder) {
  if (kind.startsWith("study")) {
    const { readStudyFile } = await bundled(["services/studies/read-study-file"]);
    return (bytes) => readStudyFile(bytes);
  }
  const own = fs.mkdtempSync(path.join(folder, "read-"));
  if (kind === "backup") {
    const { contentsOf } = await bundled(["store/backup"]);
    const file = path.join(own, "backup");
    return (bytes) => {
      fs.writeFileSync(file, bytes);
      return contentsOf(file, MIGRATIONS);
    };
  }
  const { ask, filesOf, TABLE_NAMES } = await bundled([
    "archive/ask",
    "archive/folder",
    "core/archive/tables",
  ]);
  fs.cpSync(path.join(folder, "archive"), own, { recursive: true });
  // Every process damages another table.
  const tables = TABLE_NAMES.filter((table) => filesOf(own, table).length > 0);
  const table = tables[Number(process.pid) % tables.length];
  const [file] = filesOf(own, table);
  const read = async (bytes) => {
    fs.writeFileSync(file, bytes);
    await ask([own], `SELECT * FROM ${table}`, { rows: 1000 });
  };
  return Object.assign(read, { file });
}

/** A file with one to four changes. */
function damaged(whole, draw) {
  let bytes = Buffer.from(whole);
  const place = () => Math.floor(draw() * bytes.length);
  const some = () => Math.floor(draw() ** 3 * bytes.length);
  for (let changes = 1 + Math.floor(draw() * 4); changes > 0 && bytes.length > 0; changes--) {
    const at = place();
    const way = Math.floor(draw() * 5);
    if (way === 0) bytes[at] ^= 1 << Math.floor(draw() * 8);
    else if (way === 1) bytes = bytes.subarray(0, at);
    else if (way === 2) bytes.fill(0, at, Math.min(bytes.length, at + some()));
    else if (way === 3) bytes.copy(bytes, at, place(), place());
    else bytes = Buffer.concat([bytes.subarray(0, at), bytes.subarray(at + 1 + some())]);
  }
  return bytes;
}
