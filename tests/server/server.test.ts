import { execFileSync, spawnSync } from "node:child_process";
import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { ROOT, until } from "../support/command";
import { startServer, type Server } from "../support/server";
import { LONG } from "../support/long";

/** The server by its routes: nonsense in every body, strangers, and its own death in mid-run. */
describe("the server", () => {
  let server: Server;
  let target: string;
  // Each request on a connection of its own: the server may close one on which it refused a body.
  const json = { "Content-Type": "application/json", Connection: "close" };
  const post = (url: string, body: unknown, headers: Record<string, string> = {}) =>
    fetch(server.url + url, {
      method: "POST",
      headers: { ...json, ...headers },
      body: typeof body === "string" ? body : JSON.stringify(body),
    });
  const get = async (url: string) => (await fetch(server.url + url, { headers: json })).json();
  const rigOf = "demo-rig-k5";
  const order = (more: object = {}) => ({
    target,
    direction: "read",
    seconds: 30,
    repeats: 1,
    span: 2 ** 24,
    besideOwnData: true,
    ...more,
  });

  beforeAll(async () => {
    server = await startServer();
    target = fs.mkdtempSync(path.join(os.tmpdir(), "nerrit-here-"));
  });
  afterAll(async () => {
    await server.end();
    fs.rmSync(server.data, { recursive: true, force: true });
    fs.rmSync(target, { recursive: true });
  });

  const drive = { kind: "drive", name: "d", connectors: [{ side: "up", modes: ["sata-6g"] }] };
  const nonsense: [string, unknown, number][] = [
    ["/api/parts", "{", 400],
    ["/api/parts", "", 400],
    ["/api/parts", [], 422],
    ["/api/parts", null, 422],
    ["/api/parts", { ...drive, name: 5 }, 422],
    ["/api/parts", { ...drive, name: "x".repeat(500) }, 422],
    ["/api/parts", { ...drive, connectors: "all" }, 422],
    ["/api/parts", { ...drive, limits: { read: "9".repeat(400) } }, 422],
    ["/api/parts", { ...drive, notes: "x".repeat(300_000) }, 413],
    ["/api/studies", { title: "" }, 422],
    ["/api/studies", { title: "t", tolerance: 9 }, 422],
    ["/api/studies/none/rigs", { name: "r", partIds: ["a", "b"] }, 404],
    ["/api/studies/demo-first/rigs", { name: "r", partIds: ["a", "b"] }, 422],
    ["/api/studies/demo-first/rigs", { name: "r", partIds: ["demo-serac", "demo-port"] }, 422],
    ["/api/studies/demo-first/rigs", { name: "r", partIds: Array(99).fill("demo-port") }, 422],
    ["/api/rigs/none/measurements", { target: "/tmp", direction: "read" }, 404],
    [`/api/rigs/${rigOf}/measurements`, {}, 422],
    [`/api/rigs/${rigOf}/measurements`, { target: "tmp", direction: "read" }, 422],
    [`/api/rigs/${rigOf}/measurements`, { target: "/tmp", direction: "sideways" }, 422],
    [`/api/rigs/${rigOf}/measurements`, { target: "/tmp", direction: "read", depth: 1e9 }, 422],
    [`/api/rigs/${rigOf}/measurements`, { target: "/tmp", direction: "read", block: 513 }, 422],
    [`/api/rigs/${rigOf}/measurements`, { target: "/tmp\0/x", direction: "read" }, 422],
    [`/api/rigs/${rigOf}/measurements`, { target: "/etc/passwd", direction: "write" }, 422],
    [`/api/measurements/none/stop`, {}, 409],
    ["/api/shelf/import", "{", 422],
    ["/api/shelf/import", { format: "other" }, 422],
    ["/api/shelf/import", "kind,name\nport,No such kind\n", 422],
  ];
  it.each(nonsense)("answers %s with %j by %i and a plain message", async (url, body, status) => {
    const count = async () => (await get("/api/parts")).length;
    const before = await count();
    const response = await post(url, body as never);
    const { error } = await response.json();
    expect(response.status).toBe(status);
    expect(error.message.length).toBeGreaterThan(5);
    expect(await count()).toBe(before);
  });

  it("answers strangers with a refusal", async () => {
    const study = { title: "from elsewhere" };
    expect((await post("/api/studies", study, { Origin: "http://elsewhere.example" })).status).toBe(
      403,
    );
    const { port } = new URL(server.url);
    const rebound = spawnSync("curl", [
      "-s",
      "-o",
      "/dev/null",
      "-w",
      "%{http_code}",
      "-H",
      "Host: elsewhere.example",
      `http://127.0.0.1:${port}/`,
    ]);
    if (rebound.status === 0) expect(rebound.stdout.toString()).toBe("403");
    expect((await post("/api/studies", study, { Origin: server.url })).status).toBe(201);
  });

  it("says plainly that a port is taken", () => {
    const { port } = new URL(server.url);
    const second = spawnSync(process.execPath, ["scripts/start.mjs", "--port", port], {
      cwd: ROOT,
    });
    expect(second.status).toBe(1);
    expect(second.stderr.toString()).toMatch(/taken/);
  });

  it("shows every page of a study, and none of what is not there", async () => {
    for (const page of ["/", "/shelf", "", "/rigs", "/measure?m=demo-rig-k5-read"].map((p) =>
      p.startsWith("/s") || p === "/" ? p : `/studies/demo-first${p}`,
    )) {
      expect((await fetch(server.url + page)).status, page).toBe(200);
    }
    for (const page of ["/studies/none", "/studies/none/rigs", "/nowhere"]) {
      expect((await fetch(server.url + page)).status, page).toBe(404);
    }
  });

  const underWay = (id: string) =>
    until("samples arrive", async () => {
      const { runs } = await get(`/api/measurements/${id}`);
      return runs[0]?.samples.length > 3;
    });

  it("ends cleanly on Ctrl-C in mid-run, with an event stream open", LONG, async () => {
    const { id } = await (await post(`/api/rigs/${rigOf}/measurements`, order())).json();
    const stream = await fetch(`${server.url}/api/measurements/${id}/events`);
    await underWay(id);
    expect(await server.end("SIGINT")).toBe(0);
    await stream.body?.cancel().catch(() => undefined);
    server = await startServer(server.data);
    const found = await get(`/api/measurements/${id}`);
    expect(found.status).toBe("interrupted");
    expect(found.runs[0].samples.length).toBeGreaterThan(3);
    expect(fs.readdirSync(target)).toEqual([]);
  });

  it("keeps the samples of a run when it is killed, and the measuring process goes with it", async () => {
    const { id } = await (await post(`/api/rigs/${rigOf}/measurements`, order())).json();
    await underWay(id);
    await killServerOnly(server);
    await until("the measuring process is gone", () => enginesOn(target) === 0);
    server = await startServer(server.data);
    const found = await get(`/api/measurements/${id}`);
    expect(found.status).toBe("interrupted");
    expect(found.runs[0]).toMatchObject({ status: "interrupted" });
    expect(found.runs[0].samples.length).toBeGreaterThan(3);
    expect(fs.readdirSync(target)).toEqual([]);
    const again = await post(`/api/rigs/${rigOf}/measurements`, order({ seconds: 0.5 }));
    expect(again.status).toBe(201);
  });
});

/** Kills the web server, but not the measuring process beside it. */
async function killServerOnly(server: Server): Promise<void> {
  const gone = new Promise((resolve) => server.process.once("exit", resolve));
  const found = execFileSync("pgrep", ["-P", String(server.process.pid)])
    .toString()
    .trim();
  for (const pid of found.split("\n")) process.kill(Number(pid), "SIGKILL");
  await gone;
}

/** Measuring processes with a nameless file in a directory. */
function enginesOn(directory: string): number {
  return fs.readdirSync("/proc").filter((pid) => {
    if (!/^\d+$/.test(pid)) return false;
    try {
      return fs
        .readdirSync(`/proc/${pid}/fd`)
        .some((fd) => fs.readlinkSync(`/proc/${pid}/fd/${fd}`).startsWith(directory));
    } catch {
      return false;
    }
  }).length;
}
