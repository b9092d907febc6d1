/**
 * npm run bench:compare: how quickly Compare opens with 200 rigs, ten drills and five repeats each
 * (10 000 runs, half of them with traces), and how quickly another question is answered; then Locate, Judge, the
 * answer and the report of the same study. The runs are made on the simulated bench.
 *
 * Usage: npm run bench:compare [-- RIGS [REPEATS]]
 */
import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { seeding, serve } from "./benchmarks/many-runs.mjs";
import { buildCommand, buildWeb, install } from "./prepare.mjs";

install();
buildCommand();
if (!process.env.BUILT) buildWeb();
const rigs = Number(process.argv[2] ?? 200);
const repeats = Number(process.argv[3] ?? 5);
const folder = fs.mkdtempSync(path.join(os.tmpdir(), "nerrit-bench-"));
process.on("exit", () => fs.rmSync(folder, { recursive: true, force: true }));
const { seedManyRuns, openStore } = await seeding();
const began = performance.now();
const store = openStore(folder);
const study = seedManyRuns(store, { rigs, repeats, tracesOf: 0.5 });
store.$client.close();
const size = fs.statSync(path.join(folder, "nerrit.sqlite")).size / 1e6;
console.log(
  `seeded ${rigs * repeats * 10} runs in ${((performance.now() - began) / 1e3).toFixed(1)} s, ${size.toFixed(0)} MB`,
);

const server = await serve(folder);
const { url } = server;
try {
  // Until the answer has arrived; the words of the course above it follow by themselves.
  const timed = async (query, headers = {}) => {
    const start = performance.now();
    const response = await fetch(`${url}/studies/${study}/compare${query}`, { headers });
    if (!response.ok) throw new Error(`${response.status} for ${query}`);
    const decoder = new TextDecoder();
    let [text, ms] = ["", 0];
    for await (const chunk of response.body) {
      text += decoder.decode(chunk, { stream: true });
      if (ms === 0 && text.includes("What it means in practice")) ms = performance.now() - start;
      if (ms === 0 && text.includes('"upgrades":')) ms = performance.now() - start;
    }
    return { ms, whole: performance.now() - start, kB: text.length / 1e3 };
  };
  const say = (what, { ms, whole, kB }, wanted) =>
    console.log(
      `${what.padEnd(54)} ${ms.toFixed(0)} ms, all of it ${whole.toFixed(0)} ms, ${kB.toFixed(0)} kB (wanted: ${wanted} ms)`,
    );
  say("Compare opens, the first page of a started server", await timed(""), 1000);
  // A run that comes in makes all that was read old.
  await fetch(`${url}/api/studies/${study}/notes`, {
    method: "PUT",
    body: JSON.stringify({ notes: "seen" }),
  });
  say("Compare opens anew after something was written", await timed(""), 1000);
  // A change of the question fetches what the page is made of, without the document round it.
  const change = { RSC: "1" };
  for (const [what, query] of [
    ["one drill", "?drill=haul&direction=read"],
    ["another one", "?drill=scatter&direction=read"],
    ["the same against another, sorted", "?drill=haul&direction=write&sort=rate"],
    ["bars", "?drill=haul&direction=read&view=bars"],
    ["reading, every drill", "?direction=read"],
  ]) {
    say(`another question: ${what}`, await timed(query, change), 200);
  }
  // What holds one rig back, what claims are worth, and the answer: the first time and again.
  for (const [what, path, words] of [
    ["Locate", "/locate", "What may hold"],
    ["Judge", "/judge", "Question the verdict"],
    ["the answer", "", "Does it deliver?"],
    ["the first page", null, "Very many runs"],
  ]) {
    for (const when of ["opens", "again"]) {
      const start = performance.now();
      const response = await fetch(path === null ? url : `${url}/studies/${study}${path}`);
      const text = await response.text();
      if (!response.ok || !text.includes(words)) throw new Error(`${what}: ${response.status}`);
      console.log(`${`${what} ${when}`.padEnd(54)} ${(performance.now() - start).toFixed(0)} ms`);
    }
  }
  // The report of it all, and how long a page waits meanwhile.
  for (const when of ["made", "again, after something was written"]) {
    const start = performance.now();
    let slowest = 0;
    let over = false;
    const pages = (async () => {
      while (!over) {
        const asked = performance.now();
        await (await fetch(`${url}/ledger`)).text();
        slowest = Math.max(slowest, performance.now() - asked);
        await new Promise((resolve) => setTimeout(resolve, 250));
      }
    })();
    const response = await fetch(`${url}/api/studies/${study}/report`);
    const text = await response.text();
    if (!response.ok || !text.includes("Very many runs"))
      throw new Error(`report: ${response.status}`);
    const ms = performance.now() - start;
    over = true;
    await pages;
    console.log(
      `${`the report ${when}`.padEnd(54)} ${ms.toFixed(0)} ms, ${(text.length / 1e6).toFixed(1)} MB; another page waited ${slowest.toFixed(0)} ms at most (wanted: 5000 ms)`,
    );
    await fetch(`${url}/api/studies/${study}/notes`, {
      method: "PUT",
      body: JSON.stringify({ notes: when }),
    });
  }
} finally {
  await server.end();
}
