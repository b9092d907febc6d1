/**
 * npm run soak:plan: what Nerrit's server takes of the machine. Its share of a core while nobody looks
 * and while a page follows what is plugged in, and its memory over eight hours of a plan, each minute of
 * which a stand-in for the measuring process tells in a moment. Exits with 1 where it takes too much.
 *
 * Usage: npm run soak:plan [-- RUNS [IDLE SECONDS]]     (default: 480 runs of a minute, 60 s)
 */
import { spawn } from "node:child_process";
import { once } from "node:events";
import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { buildCommand, buildWeb, install, root } from "./prepare.mjs";
import { makeRig, post } from "./benchmarks/server.mjs";

const [runs = "480", idle = "60"] = process.argv.slice(2);
const DRILLS = [
  ["haul", "read"],
  ["haul", "write"],
  ["scatter", "read"],
  ["scatter", "write"],
];
/** A plan takes at most fifty repeats. */
const PER_PLAN = DRILLS.length * 50;

install();
buildCommand();
buildWeb();
const folder = fs.mkdtempSync(path.join(os.tmpdir(), "nerrit-soak-"));
const wrong = [];
const engine = path.join(root, "scripts/benchmarks/stand-in-engine.mjs");

const port = 20_000 + Math.floor(Math.random() * 20_000);
const url = `http://127.0.0.1:${port}`;
const server = spawn(
  process.execPath,
  [path.join(root, "node_modules/next/dist/bin/next"), "start", "-H", "127.0.0.1", "-p", port],
  {
    cwd: root,
    env: {
      ...process.env,
      NODE_ENV: "production",
      NEXT_MANUAL_SIG_HANDLE: "true",
      NERRIT_PORT: String(port),
      NERRIT_DATA: path.join(folder, "data"),
      NERRIT_ENGINE: engine,
    },
    stdio: ["ignore", "ignore", "inherit"],
  },
);
process.on("exit", () => {
  server.kill("SIGKILL");
  fs.rmSync(folder, { recursive: true, force: true });
});
await until(() => fetch(url).then(({ ok }) => ok));

const own = await shareOf(Number(idle));
console.log(`idle, nobody looks: ${percent(own)} of a core over ${idle} s, ${memory()} MB`);
if (own > 0.01) wrong.push("an idle server takes more than 1 % of a core");
const looking = new AbortController();
void drain(`${url}/api/drives/events`, looking.signal);
const followed = await shareOf(Number(idle));
console.log(
  `idle, a page follows what is plugged in: ${percent(followed)} of a core over ${idle} s`,
);
if (followed > 0.01) wrong.push("following what is plugged in takes more than 1 % of a core");
looking.abort();

const rig = await makeRig(url, "A day at the bench");
const before = memory();
const begun = performance.now();
let done = 0;
while (done < Number(runs)) {
  const count = Math.min(PER_PLAN, Number(runs) - done);
  const { id } = await post(url, `/api/studies/${rig.study}/plans`, {
    rigs: [{ rigId: rig.rig, target: os.tmpdir() }],
    drills: DRILLS.map(([name, direction]) => ({ name, direction, seconds: 60, span: 2 ** 26 })),
    repeats: Math.ceil(count / DRILLS.length),
    reserve: 0,
    besideOwnData: true,
  });
  const page = new AbortController();
  void drain(`${url}/api/plans/${id}/events`, page.signal);
  await post(url, `/api/plans/${id}`, { do: "go" });
  let told = 0;
  await until(async () => {
    const { steps, state } = await (await fetch(`${url}/api/plans/${id}`)).json();
    const over = steps.filter((step) => step.state === "done").length;
    if (over - told >= 60) {
      told = over;
      console.log(`  ${done + over} runs: ${memory()} MB`);
    }
    // No drive of its own is plugged in for it.
    if (state.kind === "hands") await post(url, `/api/plans/${id}`, { do: "go" });
    if (state.kind === "paused" && state.why) throw new Error(state.why);
    return state.kind === "done";
  });
  page.abort();
  done += count;
}
const took = ((performance.now() - begun) / 1e3).toFixed(0);
await new Promise((resolve) => setTimeout(resolve, 5000));
const after = memory();
const data = fs.statSync(path.join(folder, "data/nerrit.sqlite")).size / 1e6;
console.log(
  `${done} runs of a minute (${(done / 60).toFixed(1)} h) in ${took} s: ${before} MB before, ${after} MB after, ${data.toFixed(1)} MB of data`,
);
const answered = performance.now();
await (await fetch(`${url}/studies/${rig.study}/measure`)).text();
console.log(`the study's Measure page then: ${(performance.now() - answered).toFixed(0)} ms`);
if (after > before + 200) wrong.push("memory grows by more than 200 MB over eight hours");
server.kill("SIGTERM");
await once(server, "exit");
for (const what of wrong) console.error(`✕ ${what}`);
process.exit(wrong.length > 0 ? 1 : 0);

/** Share of one core that the server and all it started have used over some seconds. */
async function shareOf(seconds) {
  await new Promise((resolve) => setTimeout(resolve, 5000));
  const [from, begun] = [ticks(), performance.now()];
  await new Promise((resolve) => setTimeout(resolve, seconds * 1000));
  return (ticks() - from) / 100 / ((performance.now() - begun) / 1e3);
}

function ticks() {
  const text = fs.readFileSync(`/proc/${server.pid}/stat`, "utf8");
  const fields = text.slice(text.lastIndexOf(")") + 2).split(" ");
  return Number(fields[11]) + Number(fields[12]);
}

function memory() {
  const status = fs.readFileSync(`/proc/${server.pid}/status`, "utf8");
  return Math.round(Number(/VmRSS:\s+(\d+)/.exec(status)[1]) / 1024);
}

async function drain(address, signal) {
  try {
    for await (const _ of (await fetch(address, { signal })).body);
  } catch {
    // It was ended here.
  }
}

async function until(holds) {
  for (let left = 36_000; left > 0; left--) {
    const done = await Promise.resolve()
      .then(holds)
      .catch((error) => {
        if (!(error instanceof TypeError)) throw error; // the server is not up yet
        return false;
      });
    if (done) return;
    await new Promise((resolve) => setTimeout(resolve, 500));
  }
  throw new Error("it did not come to its end");
}

function percent(share) {
  return `${(share * 100).toFixed(2)} %`;
}
