import fs from "node:fs";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { startServer, type Server } from "../support/server";

describe("recorded work, on a server with the sample studies", () => {
  let server: Server;
  beforeAll(async () => {
    server = await startServer();
  });
  afterAll(async () => {
    await server?.end();
    fs.rmSync(server.data, { recursive: true, force: true });
  });
  const call = async (method: string, route: string, body?: unknown) => {
    const response = await fetch(`${server.url}${route}`, {
      method,
      headers: { "Content-Type": "application/json" },
      body: body === undefined ? undefined : JSON.stringify(body),
    });
    return { status: response.status, data: await response.json() };
  };
  const sample = async () => {
    const { data } = await call("GET", "/api/works");
    return data.find(({ work }: { work: { name: string } }) => /picture/.test(work.name)).work;
  };
  const encore = (recordings: unknown[], of: object = {}) => ({
    drill: "encore",
    direction: "mixed",
    recordings,
    ambientCelsius: 22,
    ...of,
  });

  it("is foretold for the rig that did none of it, and close to what the others took", async () => {
    const { data } = await call("GET", "/api/studies/demo-work/works");
    const through = (rigId: string) =>
      data.times.filter((one: { rigId: string }) => one.rigId === rigId);
    for (const rig of ["k2", "k5", "nunatak", "varve"])
      expect(through(`demo-work-${rig}`)).toHaveLength(3);
    expect(through("demo-work-talus")).toEqual([]);
    expect(data.undone).toEqual([]);
    const done = await call("POST", "/api/rigs/demo-work-k2/simulated", encore([await sample()]));
    const foretold = through("demo-work-k2").find((one: { key: string }) =>
      /picture/.test(one.key),
    );
    expect(Math.abs(foretold.ms / done.data.simulated.ms - 1)).toBeLessThan(0.15);
  });

  it("is done again on the simulated bench, sooner through a wider link", async () => {
    const work = await sample();
    const ms = async (rig: string, recordings: unknown[]) => {
      const { data } = await call(
        "POST",
        `/api/rigs/demo-work-${rig}/simulated`,
        encore(recordings),
      );
      expect(data.simulated.waitedMs).toBeLessThanOrEqual(data.simulated.ms);
      return data.simulated.ms;
    };
    expect(await ms("nunatak", [work])).toBeLessThan(await ms("k2", [work]));
  });

  it("says what is missing: nothing chosen, a recording that is not here, a study that is none", async () => {
    const nothing = await call("POST", "/api/rigs/demo-work-k2/simulated", encore([]));
    expect(nothing).toMatchObject({
      status: 422,
      data: { error: { fields: [{ path: "recordings" }] } },
    });
    const gone = { ...(await sample()), sha256: "0".repeat(64), name: "Gone" };
    const missing = await call("POST", "/api/rigs/demo-work-k2/simulated", encore([gone]));
    expect(missing.status).toBe(422);
    expect(missing.data.error.message).toMatch(/"Gone" is not here any more/);
    expect((await call("GET", "/api/studies/none/works")).status).toBe(404);
    const hostile = await call(
      "POST",
      "/api/rigs/demo-work-k2/simulated",
      encore([{ sha256: "../../etc/passwd" }]),
    );
    expect(hostile.status).toBe(422);
  });
});
