import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import Database from "better-sqlite3";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { until } from "../support/command";
import { startServer, type Server } from "../support/server";

/** A server whose database another program holds: runs go on, pages say so, and nothing is lost. */
describe("a server whose database cannot be written", () => {
  let server: Server;
  let target: string;
  let holder: Database.Database | null = null;
  const get = async (url: string) => (await fetch(server.url + url)).json();
  const measure = async (more: object) => {
    const body = { target, direction: "read", span: 2 ** 24, repeats: 1, besideOwnData: true };
    const response = await fetch(`${server.url}/api/rigs/demo-rig-k5/measurements`, {
      method: "POST",
      headers: { "Content-Type": "application/json" },
      body: JSON.stringify({ ...body, io: "buffered", ...more }),
    });
    return { status: response.status, body: await response.json() };
  };

  beforeAll(async () => {
    server = await startServer();
    // On another device than the other tests of the server measure: of one drive only one run goes on.
    const memory = fs.existsSync("/dev/shm") ? "/dev/shm" : os.tmpdir();
    target = fs.mkdtempSync(path.join(memory, "nerrit-here-"));
  });
  afterAll(async () => {
    holder?.close();
    await server.end();
    fs.rmSync(server.data, { recursive: true, force: true });
    fs.rmSync(target, { recursive: true });
  });

  it("keeps the whole of a run that goes on, begins no other, and says so on every page", async () => {
    // Long enough that the database is held before it is over, however busy the machine.
    const { body } = await measure({ seconds: 20 });
    const stands = () => get(`/api/measurements/${body.id}`);
    await until("samples arrive", async () => (await stands()).runs[0]?.samples.length > 3);
    holder = new Database(path.join(server.data, "nerrit.sqlite"));
    holder.exec("begin immediate");
    await until("it is noticed", async () => (await get("/api/store")).trouble !== null);
    await until("the run is over", async () => (await stands()).status === "done");
    const page = await (await fetch(`${server.url}/shelf`)).text();
    expect(page).toMatch(/data-store-trouble/);
    const refused = await measure({ seconds: 1 });
    expect(refused.status).toBe(507);
    expect(refused.body.error.message).toMatch(/another program holds it/);
    // No measuring process was started for it.
    expect(fs.readdirSync(target)).toEqual([]);
    holder.close();
    holder = null;
    await until("it can be written again", async () => (await get("/api/store")).trouble === null);
    const [run] = (await stands()).runs;
    expect(run.result.meanMBps).toBeGreaterThan(0);
    expect(run.samples.at(-1).ms).toBeGreaterThan(19_900);
    expect(await (await fetch(`${server.url}/shelf`)).text()).not.toMatch(/data-store-trouble/);
  });
});
