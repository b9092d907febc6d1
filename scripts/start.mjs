/** npm start: prepares what is missing, then serves Nerrit on 127.0.0.1. */
import { spawn } from "node:child_process";
import { readFileSync } from "node:fs";
import net from "node:net";
import path from "node:path";
import { parseArgs } from "node:util";
import { buildCommand, buildWeb, install, root } from "./prepare.mjs";

const HOST = "127.0.0.1";
const { port, anyUser } = readOptions();
if (!(await isFree(port))) {
  console.error(
    `nerrit: port ${port} is taken, perhaps by another Nerrit. Choose another: npm start -- --port ${port + 1}`,
  );
  process.exit(1);
}
install();
buildCommand();
buildWeb();

const server = spawn(
  process.execPath,
  [path.join(root, "node_modules/next/dist/bin/next"), "start", "-H", HOST, "-p", String(port)],
  {
    cwd: root,
    stdio: ["ignore", "pipe", "inherit"],
    env: {
      ...process.env,
      NEXT_TELEMETRY_DISABLED: "1",
      NEXT_MANUAL_SIG_HANDLE: "true",
      NERRIT_PORT: String(port),
      NERRIT_ANY_USER: anyUser ? "1" : "0",
    },
  },
);
// The pages are there once the server listens and its data folder is open, in whichever order.
let said = "";
let announced = false;
server.stdout.on("data", (chunk) => {
  if (announced) return;
  said += chunk;
  if (!/ready/i.test(said) || !said.includes("the data folder is open")) return;
  announced = true;
  console.log(`Nerrit is at http://${HOST}:${port}  (Ctrl-C ends it)`);
  offerBrowser(`http://${HOST}:${port}`);
});
// Ctrl-C reaches the whole group; a signal to this process alone is passed on.
for (const signal of ["SIGINT", "SIGTERM", "SIGHUP"]) {
  process.on(signal, () => server.kill("SIGTERM"));
}
// A signal that ends npm alone never reaches this process: that npm is gone is seen by whose child this
// process is, or the shell between the two.
const before = ancestors();
if (process.env.npm_lifecycle_event === "start")
  setInterval(() => ancestors() !== before && server.kill("SIGTERM"), 500).unref();
server.on("exit", (status, signal) => process.exit(status ?? (signal ? 1 : 0)));

/** Opens the browser where somebody sits before it and asks for that by Enter. */
function offerBrowser(url) {
  const opener = { darwin: "open", linux: "xdg-open" }[process.platform];
  const { DISPLAY, WAYLAND_DISPLAY } = process.env;
  const isSeen = process.platform === "darwin" || Boolean(DISPLAY || WAYLAND_DISPLAY);
  if (!opener || !isSeen || !process.stdin.isTTY) return;
  console.log("Press Enter to open it in the browser.");
  process.stdin.once("data", () => {
    process.stdin.pause();
    spawn(opener, [url], { stdio: "ignore", detached: true })
      .once("error", () => console.error(`nerrit: ${opener} is not there; open ${url} yourself.`))
      .unref();
  });
}

function readOptions() {
  let text = process.env.PORT || "4310";
  let anyUser = false;
  try {
    const { values } = parseArgs({
      options: { port: { type: "string" }, "any-user": { type: "boolean" } },
    });
    text = values.port ?? text;
    anyUser = values["any-user"] ?? false;
  } catch (error) {
    console.error(`nerrit: ${error.message}. Usage: npm start -- [--port N] [--any-user]`);
    process.exit(2);
  }
  const number = Number(text);
  if (!Number.isInteger(number) || number < 1 || number > 65535) {
    console.error(`nerrit: "${text}" is not a port number (1 to 65535).`);
    process.exit(2);
  }
  return { port: number, anyUser };
}

/** The parent of this process and its parent, as text; the second is left out where no /proc tells. */
function ancestors() {
  try {
    // The name in parentheses may hold anything; after it come the state and the parent (proc_pid_stat(5)).
    const stat = readFileSync(`/proc/${process.ppid}/stat`, "utf8");
    return `${process.ppid} ${stat.slice(stat.lastIndexOf(")")).split(" ")[2]}`;
  } catch {
    return `${process.ppid}`;
  }
}

function isFree(number) {
  return new Promise((resolve) => {
    const probe = net.createServer();
    probe.once("error", () => resolve(false));
    probe.listen(number, HOST, () => probe.close(() => resolve(true)));
  });
}
