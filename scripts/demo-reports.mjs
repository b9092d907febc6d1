/**
 * npm run demo:reports: makes the reports of the sample studies in docs/reports anew.
 */
import { spawn, spawnSync } from "node:child_process";
import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { buildCommand, buildWeb, install, root } from "./prepare.mjs";

const STUDIES = { cable: "demo-first", enclosures: "demo-enclosures", day: "demo-day" };
const PORT = "4711";

install();
buildCommand();
buildWeb();
const folder = fs.mkdtempSync(path.join(os.tmpdir(), "nerrit-reports-"));
const out = path.join(root, "docs", "reports");
fs.mkdirSync(out, { recursive: true });
const server = spawn(process.execPath, [path.join(root, "scripts/start.mjs"), "--port", PORT], {
  env: { ...process.env, NERRIT_DATA: folder },
  stdio: ["ignore", "pipe", "inherit"],
});
try {
  await new Promise((resolve) => {
    server.stdout.on("data", (text) => String(text).includes("Nerrit is at") && resolve());
    server.once("exit", resolve);
  });
  for (const [name, id] of Object.entries(STUDIES)) {
    const answer = await fetch(`http://127.0.0.1:${PORT}/api/studies/${id}/file`);
    fs.writeFileSync(path.join(folder, name), Buffer.from(await answer.arrayBuffer()));
  }
  for (const name of Object.keys(STUDIES)) {
    const study = path.join(folder, name);
    const page = path.join(out, `${name}.html`);
    fs.rmSync(page, { force: true });
    const cli = [path.join(root, "bin/nerrit.mjs"), "report", study, "--out", page];
    const { status } = spawnSync(process.execPath, cli, { stdio: "inherit" });
    if (status !== 0) throw new Error(`${name} was not made.`);
    console.log(`${path.relative(root, page)}: ${(fs.statSync(page).size / 1e3).toFixed(0)} kB`);
  }
} finally {
  const gone = new Promise((resolve) => server.once("exit", resolve));
  server.kill("SIGINT");
  await gone;
  fs.rmSync(folder, { recursive: true, force: true });
}
