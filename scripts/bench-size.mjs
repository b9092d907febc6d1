/**
 * npm run bench:size: how long Nerrit takes to start and to show its pages with 1 000, 10 000 and 100 000 runs, in
 * studies of a thousand, and how much memory it takes; side by side, so that growth shows. The runs are made on the
 * simulated bench, and go the way every run goes.
 *
 * Usage: npm run bench:size [-- RUNS ...]
 */
import { once } from "node:events";
import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { Worker } from "node:worker_threads";
import { seeding, serve } from "./benchmarks/many-runs.mjs";
import { buildCommand, buildWeb, install } from "./prepare.mjs";

install();
buildCommand();
if (!process.env.BUILT) buildWeb();
const sizes = process.argv.slice(2).map(Number);
const { openStore } = await seeding();
/** Of a study: 20 rigs, ten drills, five repeats. */
const RIGS = 20;
const REPEATS = 5;
const RUNS = RIGS * REPEATS * 10;

const columns = [];
for (const runs of sizes.length > 0 ? sizes : [1000, 10_000, 100_000])
  columns.push(await measured(runs));
for (const what of Object.keys(columns[0]))
  console.log(what.padEnd(58) + columns.map((one) => String(one[what]).padStart(12)).join(""));

/** What a bench of so many runs shows: a figure, in words, for each line. */
async function measured(runs) {
  const folder = fs.mkdtempSync(path.join(os.tmpdir(), "nerrit-size-"));
  const found = { "": `${runs} runs` };
  try {
    const began = performance.now();
    openStore(folder).$client.close();
    const studies = await seeded(folder, Math.ceil(runs / RUNS));
    found["made and stored, s"] = ((performance.now() - began) / 1e3).toFixed(1);
    const { size } = fs.statSync(path.join(folder, "nerrit.sqlite"));
    found["database, MB"] = (size / 1e6).toFixed(0);
    for (const when of ["first start", "next start"]) {
      const server = await serve(folder);
      try {
        found[`${when}, ms`] = server.ms.toFixed(0);
        await pages(server.url, studies, (what, ms) => {
          found[`${when}: ${what}, ms`] = ms.toFixed(0);
        });
        found[`${when}: memory at most, MB`] = server.memoryMB().toFixed(0);
      } finally {
        await server.end();
      }
    }
  } finally {
    fs.rmSync(folder, { recursive: true, force: true });
  }
  return found;
}

/** Fills a data folder with studies, in two threads: one simulates while the other one stores. @returns their ids */
async function seeded(folder, count) {
  const halves = [Math.ceil(count / 2), Math.floor(count / 2)].filter((n) => n > 0);
  const ids = halves.map(async (studies, half) => {
    const workerData = { folder, studies, half, rigs: RIGS, repeats: REPEATS };
    const thread = new Worker(new URL("./benchmarks/seed-thread.mjs", import.meta.url), {
      workerData,
    });
    const [made] = await once(thread, "message");
    return made;
  });
  return (await Promise.all(ids)).flat();
}

/** Opens pages as a tester would, and again; then after something of one study was written. */
async function pages(url, studies, say) {
  const [study] = studies;
  const timed = async (what, route) => {
    const start = performance.now();
    const response = await fetch(url + route);
    await response.text();
    if (!response.ok) throw new Error(`${what}: ${response.status}`);
    say(what, performance.now() - start);
  };
  const all = [
    ["the first page", "/"],
    ["the shelf", "/shelf"],
    ["an answer", `/studies/${study}`],
    ["Rigs", `/studies/${study}/rigs`],
    ["Measure", `/studies/${study}/measure`],
    ["Compare", `/studies/${study}/compare`],
    ["Locate", `/studies/${study}/locate`],
    ["Judge", `/studies/${study}/judge`],
    ["Backups", "/backups"],
    ["Removed", "/removed"],
  ];
  for (const [what, route] of all) await timed(what, route);
  for (const [what, route] of all) await timed(`${what} again`, route);
  await fetch(`${url}/api/studies/${study}/notes`, {
    method: "PUT",
    headers: { "Content-Type": "application/json" },
    body: JSON.stringify({ notes: new Date().toISOString() }),
  });
  await timed("the first page after a write", "/");
  await timed("Compare after a write", `/studies/${study}/compare`);
}
