import fs from "node:fs";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { startServer, type Server } from "../support/server";

/** Locate and Judge on the running server, asked what makes no sense. */
describe("hostile questions", () => {
  let server: Server;
  beforeAll(async () => {
    server = await startServer();
  });
  afterAll(async () => {
    await server.end();
    fs.rmSync(server.data, { recursive: true, force: true });
  });
  const STUDY = "/studies/demo-enclosures";
  const page = async (url: string) => {
    const response = await fetch(server.url + url);
    return { status: response.status, text: await response.text() };
  };
  const send = async (method: string, url: string, body: unknown) => {
    const response = await fetch(server.url + url, {
      method,
      headers: { "Content-Type": "application/json" },
      body: typeof body === "string" ? body : JSON.stringify(body),
    });
    const answer = (await response.json()) as { error?: { message: string } };
    return { status: response.status, message: answer.error?.message ?? "" };
  };
  const SCRIPT = "<script>alert(1)</script>";

  it.each([
    "step=-1",
    "step=1e9",
    "step=abc",
    "step=0&step=1",
    "rig=nowhere",
    "rig=a&rig=b",
    "drill=nothing",
    "direction=sideways",
    `rig=${encodeURIComponent(SCRIPT)}`,
  ])("leave Locate as it is: %s", async (query) => {
    const { status, text } = await page(`${STUDY}/locate?${query}`);
    expect(status).toBe(200);
    expect(text).toContain("has been shown to carry");
    expect(text).not.toContain(SCRIPT);
  });

  it.each([
    "tolerance=NaN",
    "tolerance=-1",
    "tolerance=9",
    "tolerance=",
    "on=nowhere",
    "without=nowhere",
    "without=a&without=b",
    "claim=nowhere",
    "claim=__proto__.0",
    `claim=${encodeURIComponent(SCRIPT)}`,
  ])("leave Judge as it is: %s", async (query) => {
    const { status, text } = await page(`${STUDY}/judge?${query}`);
    expect(status).toBe(200);
    expect(text).toContain("Question the verdict");
    expect(text).not.toContain("What if:");
    expect(text).not.toContain(SCRIPT);
  });

  it("lead from a run of another study to where it was measured", async () => {
    const text = fs.readFileSync("docs/formats.md", "utf8");
    const example = /<!-- study-example -->\s*```json\n([^]*?)```/.exec(text)![1]!;
    const post = await fetch(`${server.url}/api/studies/file`, { method: "POST", body: example });
    const { id } = (await post.json()) as { id: string };
    const file = await (await fetch(`${server.url}/api/studies/${id}/file`)).json();
    const [run] = (file as { runs: { id: string }[] }).runs;
    const ask = async (study: string, m: string) => {
      const url = `${server.url}/studies/${study}/measure?m=${m}`;
      const { status, headers } = await fetch(url, { redirect: "manual" });
      return { status, to: headers.get("location") };
    };
    const led = await ask("demo-enclosures", run!.id);
    expect(led.status).toBe(307);
    expect(led.to).toContain(`/studies/${id}/measure?m=${run!.id}`);
    expect((await ask(id, run!.id)).status).toBe(200);
    expect((await ask(id, "nowhere")).status).toBe(200);
  });

  it("find no study that is none", async () => {
    for (const name of ["locate", "judge"])
      expect((await page(`/studies/nowhere/${name}`)).status).toBe(404);
    expect((await send("PATCH", "/api/studies/nowhere", { tolerance: 0.1 })).status).toBe(404);
    const step = { rig: { like: "x" }, drill: "haul", direction: "read" };
    expect((await send("POST", "/api/studies/nowhere/steps", step)).status).toBe(404);
  });

  it.each<[string, string, unknown]>([
    ["PUT", "/api/opinion", "{"],
    ["PUT", "/api/opinion", { priors: { pairing: 2 } }],
    ["PUT", "/api/opinion", { priors: { __proto__: 1, "cable mood": 0.1 } }],
    ["PUT", "/api/opinion", { minutes: { cable: 1e9 } }],
    ["PUT", "/api/opinion", []],
    ["PATCH", "/api/studies/demo-enclosures", { tolerance: 0.9 }],
    ["PATCH", "/api/studies/demo-enclosures", { tolerance: "0.1" }],
    ["PATCH", "/api/studies/demo-enclosures", {}],
    ["POST", "/api/studies/demo-enclosures/steps", {}],
    [
      ...(["POST", "/api/studies/demo-enclosures/steps"] as const),
      { rig: { like: "demo-box-till" }, drill: "no such drill", direction: "read" },
    ],
    [
      ...(["POST", "/api/studies/demo-enclosures/steps"] as const),
      { rig: { like: "demo-box-till" }, drill: "long-fill", direction: "read" },
    ],
    [
      ...(["POST", "/api/studies/demo-enclosures/steps"] as const),
      {
        rig: { like: "demo-box-till", parts: Array(999).fill("x") },
        drill: "haul",
        direction: "read",
      },
    ],
  ])("are refused with a reason and change nothing: %s %s %j", async (method, url, body) => {
    const before = (await page(`${STUDY}/rigs`)).text.match(/demo-box-/g)?.length;
    const { status, message } = await send(method, url, body);
    expect([400, 422]).toContain(status);
    expect(message.length).toBeGreaterThan(5);
    expect((await page(`${STUDY}/rigs`)).text.match(/demo-box-/g)?.length).toBe(before);
    const opinion = (await (await fetch(`${server.url}/api/opinion`)).json()) as object;
    expect(opinion).toEqual({ priors: {}, minutes: {}, fewest: "steps" });
  });
});
