/**
 * npm run soak: what takes too long for npm test. Proves 20 GB on a sound medium, aborts a thousand
 * runs, holds rates against the kernel's throttle, follows a swap on two real disks, and lets a target stop
 * answering for a minute; prints figures, and exits with 1 where something is not as it should be. The
 * machine should do nothing else meanwhile.
 *
 * Usage: npm run soak [-- DIRECTORY [GIGABYTES [ABORTS]]]     (default: a folder in /dev/shm or /tmp)
 */
import { spawn, spawnSync } from "node:child_process";
import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { buildCommand, buildWeb, install, root } from "./prepare.mjs";

install();
buildCommand();
const [directory, gigabytes = "20", aborts = "1000"] = process.argv.slice(2);
const own = directory ?? fs.mkdtempSync(path.join(os.tmpdir(), "nerrit-soak-"));
const wrong = [];

function measure(args, started) {
  return new Promise((resolve) => {
    const child = spawn(
      process.execPath,
      [path.join(root, "bin/nerrit.mjs"), "measure", "--json", ...args],
      { stdio: ["ignore", "pipe", "pipe"] },
    );
    let out = "";
    let err = "";
    child.stdout.on("data", (chunk) => (out += chunk));
    child.stderr.on("data", (chunk) => (err += chunk));
    started?.(child);
    child.on("close", (status) => resolve({ status, err, document: out ? JSON.parse(out) : null }));
  });
}
const check = (what, holds) => {
  if (!holds) wrong.push(what);
};
const seconds = async (work) => {
  const begun = performance.now();
  const result = await work();
  return { result, took: ((performance.now() - begun) / 1e3).toFixed(0) };
};

// In pieces that fit, each with its own two passes.
const { bsize, bavail } = fs.statfsSync(own);
const piece = Math.min(Number(gigabytes) * 5e8, bsize * bavail * 0.4);
const span = Math.max(1, Math.floor(piece / 2 ** 20));
let checked = 0;
let faults = 0;
const proof = await seconds(async () => {
  while (checked < Number(gigabytes) * 1e9) {
    const args = ["--target", own, "--drill", "proof", "--span", `${span}MiB`, "--reserve", "0B"];
    const { status, document, err } = await measure(args);
    if (status !== 0) return err;
    checked += document.checkedBytes;
    faults += document.faults.length + document.moreFaults;
  }
  return "";
});
console.log(
  `Proof: ${(checked / 1e9).toFixed(1)} GB checked in ${proof.took} s, ${faults} faults ${proof.result}`,
);
check("Proof finds faults on a sound medium", faults === 0 && proof.result === "");

const before = fs.readdirSync(own);
let kept = 0;
let odd = 0;
const { took } = await seconds(async () => {
  for (let i = 0; i < Number(aborts); i++) {
    // Anywhere from before the first request to the middle of a step.
    const delay = 200 + ((i * 7919) % 1500);
    const args = ["--target", own, "--direction", i % 2 ? "write" : "read", "--seconds", "5"];
    const { status, err, document } = await measure(
      [...args, "--span", "8MiB", "--reserve", "0B"],
      (child) => setTimeout(() => child.kill(i % 5 ? "SIGINT" : "SIGTERM"), delay),
    );
    if (document) kept += 1;
    const plain = status === 1 && /stopped before the end/.test(err);
    const early = status === null || (status === 143 && err === "");
    if (!plain && !early) odd += 1;
  }
});
console.log(
  `Aborts: ${aborts} in ${took} s, ${kept} with samples, ${odd} that ended otherwise, ${fs.readdirSync(own).length - before.length} files left`,
);
check("an abort ends otherwise than in its sentence", odd === 0);
check("an abort leaves something behind", fs.readdirSync(own).length === before.length);

/** Tests of npm test, with more of the same than it has time for. */
const longer = (env, project, ...args) =>
  spawnSync(
    process.execPath,
    [path.join(root, "node_modules/vitest/vitest.mjs"), "run", "--project", project, ...args],
    { cwd: root, stdio: "inherit", env: { ...process.env, ...env } },
  ).status;

check("what the kernel lets through is what is measured", longer({}, "rates") === 0);

// The same as in npm test, with the engine and throttled disks in place of a stand-in.
buildWeb();
const swap = longer({ NERRIT_SOAK: "1" }, "browser", "tests/browser/next-swap.test.ts");
check("a next swap that is followed on two real disks", swap === 0);

// The same test that npm test does with six seconds.
const silence = longer(
  { NERRIT_SILENCE_SECONDS: "60" },
  "devices",
  "tests/devices/silent-drives.test.ts",
  "-t",
  "comes back",
);
console.log(`A minute's silence: ${silence === 0 ? "the run goes on afterwards" : "goes wrong"}`);
check("a drive that stops answering for a minute and comes back", silence === 0);

if (directory === undefined) fs.rmSync(own, { recursive: true });
for (const what of wrong) console.error(`✕ ${what}`);
process.exit(wrong.length > 0 ? 1 : 0);
