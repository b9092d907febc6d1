/**
 * npm run bench:page: what the live page costs the measuring it shows. Runs of Haul, reading, in turns
 * with the page open and with an empty one, on a device held to a rate by the kernel and on a
 * memory-backed one. Prints medians and their ratio; wanted is 0.98 or more. Needs root and Chromium.
 *
 * Usage: npm run bench:page [-- DEVICE]     (default: /dev/zram0; what is on it is lost)
 */
import { execFileSync, spawn } from "node:child_process";
import { randomFillSync } from "node:crypto";
import { once } from "node:events";
import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import puppeteer from "puppeteer-core";
import { buildCommand, buildWeb, install, root } from "./prepare.mjs";
import { makeRig, post } from "./benchmarks/server.mjs";

const ROUNDS = Number(process.env.ROUNDS ?? 9);
const SECONDS = 12;
/** Until then the page is still being loaded, which is not what it costs to keep it open. */
const STANDS_AFTER_MS = 4000;
const THROTTLE_MBPS = 120;
const SPAN = 2 ** 29;

install();
buildCommand();
buildWeb();
const memory = process.argv[2] ?? "/dev/zram0";
const folder = fs.mkdtempSync(path.join(os.tmpdir(), "nerrit-bench-"));
const undo = [() => fs.rmSync(folder, { recursive: true, force: true })];
process.on("exit", () => undo.toReversed().forEach((step) => step()));

fill(memory);
const throttled = throttledLoop();
// Everything that is started from here on is held; nothing else has to do with that device.
throttled.hold(process.pid);
const { url, server } = await startServer();
const browser = await puppeteer.launch({
  executablePath: process.env.CHROMIUM ?? "/usr/bin/chromium",
  args: ["--headless", "--no-sandbox", "--disable-gpu", "--disable-background-networking"],
});
const page = await browser.newPage();
await page.setViewport({ width: 1280, height: 800 });
const { study, rig } = await makeRig(url, "The page’s own cost");

for (const [name, device] of [
  [`held to ${THROTTLE_MBPS} MB/s`, throttled.device],
  ["memory-backed", memory],
]) {
  const rates = { without: [], with: [] };
  for (let round = 0; round < ROUNDS; round++) {
    for (const way of round % 2 === 0 ? ["without", "with"] : ["with", "without"]) {
      rates[way].push(await measure(device, way === "with"));
    }
  }
  const [without, open] = [rates.without, rates.with].map(median);
  console.log(
    `${name.padEnd(18)} ${device.padEnd(12)} without ${without.toFixed(1)} (${range(rates.without)})   with the page ${open.toFixed(1)} (${range(rates.with)}) MB/s = ${(open / without).toFixed(3)} (wanted: 0.98)`,
  );
}
await browser.close();
server.kill("SIGTERM");
await once(server, "exit");

async function measure(target, open) {
  const settings = { seconds: SECONDS, span: SPAN, repeats: 1, direction: "read", drill: "haul" };
  await page.goto("about:blank");
  const { id } = await post(url, `/api/rigs/${rig}/measurements`, { target, ...settings });
  if (open) await page.goto(`${url}/studies/${study}/measure?m=${id}`);
  for (;;) {
    await new Promise((resolve) => setTimeout(resolve, 1000));
    // Asking costs too, and costs both alike.
    const { status, runs } = await (await fetch(`${url}/api/measurements/${id}`)).json();
    if (status === "done") return rateOf(runs[0].samples);
    if (status !== "running" && status !== "preparing") throw new Error(`the run was ${status}`);
  }
}

/** MB/s from the moment on at which the page stands. */
function rateOf(samples) {
  const counted = samples.filter(({ from }) => from >= STANDS_AFTER_MS);
  const bytes = counted.reduce((sum, sample) => sum + sample.bytes, 0);
  return bytes / 1e3 / (counted.at(-1).ms - counted[0].from);
}

async function startServer() {
  const port = 20_000 + Math.floor(Math.random() * 20_000);
  const server = spawn(process.execPath, ["scripts/start.mjs", "--port", String(port)], {
    cwd: root,
    env: { ...process.env, NERRIT_DATA: path.join(folder, "data"), NODE_ENV: "production" },
    stdio: ["ignore", "pipe", "inherit"],
  });
  undo.push(() => server.kill("SIGTERM"));
  let said = "";
  await new Promise((resolve, reject) => {
    server.stdout.on("data", (chunk) => /Nerrit is at/.test((said += chunk)) && resolve());
    server.once("exit", () => reject(new Error(`the server did not start: ${said}`)));
  });
  return { url: `http://127.0.0.1:${port}`, server };
}

/** A loop device over memory that the kernel holds to a rate for whoever is put into its group. */
function throttledLoop() {
  const run = (...words) => execFileSync(words[0], words.slice(1), { encoding: "utf8" }).trim();
  const image = path.join("/dev/shm", path.basename(folder));
  fs.writeFileSync(image, "");
  undo.push(() => fs.rmSync(image));
  fs.truncateSync(image, SPAN);
  fill(image);
  const device = run("losetup", "--find", "--show", image);
  undo.push(() => run("losetup", "--detach", device));
  const number = fs.readFileSync(`/sys/block/${path.basename(device)}/dev`, "utf8").trim();
  const group = path.join("/sys/fs/cgroup/blkio", path.basename(folder));
  fs.mkdirSync(group);
  undo.push(() => {
    try {
      fs.rmdirSync(group);
    } catch {
      console.error(`${group} is left: a process is still in it`);
    }
  });
  const file = path.join(group, "blkio.throttle.read_bps_device");
  fs.writeFileSync(file, `${number} ${THROTTLE_MBPS * 1e6}`);
  return {
    device,
    hold(pid) {
      fs.writeFileSync(path.join(group, "cgroup.procs"), String(pid));
      undo.push(() => fs.writeFileSync("/sys/fs/cgroup/blkio/cgroup.procs", String(pid)));
    },
  };
}

/** Random data, so that nothing on the way can compress it. */
function fill(file) {
  const disksize = `/sys/block/${path.basename(file)}/disksize`;
  if (fs.existsSync(disksize) && fs.readFileSync(disksize, "utf8").trim() === "0") {
    fs.writeFileSync(disksize, String(2 ** 31));
  }
  const data = Buffer.alloc(2 ** 20);
  const fd = fs.openSync(file, "r+");
  for (let at = 0; at < SPAN; at += data.length)
    fs.writeSync(fd, randomFillSync(data), 0, data.length, at);
  fs.fsyncSync(fd);
  fs.closeSync(fd);
}

function median(values) {
  const sorted = values.toSorted((a, b) => a - b);
  return (
    (sorted[Math.floor((sorted.length - 1) / 2)] + sorted[Math.ceil((sorted.length - 1) / 2)]) / 2
  );
}

function range(values) {
  return `${Math.min(...values).toFixed(0)} to ${Math.max(...values).toFixed(0)}`;
}
