import fs from "node:fs";
import { strToU8, zipSync } from "fflate";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { LONG } from "../support/long";
import { make, straightStudy } from "../support/made";
import { until } from "../support/command";
import { startServer, type Server } from "../support/server";

/** Files and results from elsewhere, on the server as it runs: whole or not at all, and never too much. */
describe("what comes from elsewhere", () => {
  let server: Server;
  let study: string;
  let rigId: string;
  const MIB = 2 ** 20;
  beforeAll(async () => {
    server = await startServer();
    study = await straightStudy(server, "Straight on", "sata-6g");
    const file = (await (await fetch(`${server.url}/api/studies/${study}/file`)).json()) as {
      rigs: { id: string }[];
    };
    rigId = file.rigs[0]!.id;
  });
  afterAll(async () => {
    await server.end();
    fs.rmSync(server.data, { recursive: true, force: true });
  });

  const call = async (method: string, url: string, body: BodyInit) => {
    // A connection that a refused body was sent on is closed; the next one may still try to use it.
    const once = () => fetch(server.url + url, { method, body });
    const response = await once().catch(once);
    const answer = (await response.json()) as { error?: { message: string } };
    return { status: response.status, message: answer.error?.message ?? "", answer };
  };
  const saved = async (id: string) =>
    new Uint8Array(await (await fetch(`${server.url}/api/studies/${id}/file`)).arrayBuffer());
  const studies = async () =>
    (await (await fetch(server.url)).text()).match(/href="\/studies\/[^"]+"/g)!.length;
  const memory = () => {
    const status = fs.readFileSync(`/proc/${server.process.pid}/status`, "utf8");
    return Number(/VmRSS:\s+(\d+)/.exec(status)![1]) * 1024;
  };

  it("takes in a study that was saved here, as a document or as an archive", async () => {
    for (const id of [study, "demo-first"]) {
      const before = await studies();
      const taken = await call("POST", "/api/studies/file", await saved(id));
      expect(taken.status).toBe(201);
      expect(await studies()).toBe(before + 1);
    }
    expect((await fetch(`${server.url}/api/studies/nowhere/file`)).status).toBe(404);
  });

  it("takes a study’s file up to its limit, and refuses one byte more", LONG, async () => {
    const bytes = await saved(study);
    const sized = (size: number) => {
      const padded = new Uint8Array(size).fill(0x20);
      padded.set(bytes);
      return padded;
    };
    const before = await studies();
    expect((await call("POST", "/api/studies/file", sized(64 * MIB))).status).toBe(201);
    expect(await studies()).toBe(before + 1);
    const over = await call("POST", "/api/studies/file", sized(64 * MIB + 1));
    expect(over).toMatchObject({
      status: 413,
      message: expect.stringMatching(/larger than 64 MiB/),
    });
    expect(await studies()).toBe(before + 1);
  });

  it("refuses archives that are traps, at bounded memory, and changes nothing", LONG, async () => {
    const before = await studies();
    const held = memory();
    const traps: [Uint8Array, RegExp][] = [
      [zipSync({ "study.json": new Uint8Array(140 * MIB) }, { level: 1 }), /unpacks to more/],
      [zipSync({ "../../etc/passwd": strToU8("x") }), /no part of a study/],
      [zipSync({ "study.json": strToU8('{"format":"nerrit-study"}') }), /is missing/],
      [strToU8("PK\u0003\u0004 and nothing more"), /damaged/],
      [strToU8(`${"[".repeat(500_000)}`), /no JSON|nested/],
      [Uint8Array.from([0xff, 0xfe, 0x00]), /not text in UTF-8/],
    ];
    for (const [bytes, words] of traps) {
      const refused = await call("POST", "/api/studies/file", bytes as Uint8Array<ArrayBuffer>);
      expect(refused).toMatchObject({ status: 422, message: expect.stringMatching(words) });
    }
    expect(await studies()).toBe(before);
    expect(memory() - held).toBeLessThan(600 * MIB);
  });

  it("reads a log up to its limit, every line of it, and refuses a larger one", LONG, async () => {
    const row = "1234567.25,512.5\n";
    const lines = Math.floor((63 * MIB) / (row.length + 1));
    const text = `seconds,read MB/s\n${row.repeat(lines)}`;
    const seen = await call("PUT", `/api/studies/${study}/log`, JSON.stringify({ text }));
    expect(seen).toMatchObject({
      status: 422,
      message: expect.stringMatching(/more than 2000000 lines/),
    });
    const fewer = `seconds,read MB/s\n${Array.from({ length: 400_000 }, (_, i) => `${i / 10},512.5\n`).join("")}`;
    const read = await call("PUT", `/api/studies/${study}/log`, JSON.stringify({ text: fewer }));
    expect(read.answer).toMatchObject({ lines: 400_000, problemCount: 0 });
    const over = JSON.stringify({ text: "x".repeat(64 * MIB) });
    expect((await call("PUT", `/api/studies/${study}/log`, over)).status).toBe(413);
  });

  it(
    "answers pages while it takes a large log in, says what it is at, and leaves nothing where it is stopped",
    LONG,
    async () => {
      const lines = Array.from({ length: 600_000 }, (_, i) => `${i / 10},${400 + (i % 9)}\n`);
      const text = `seconds,read MB/s\n${lines.join("")}`;
      const body = JSON.stringify({ text, rigId, drill: "haul", direction: "read" });
      const runs = async () =>
        (
          (await (await fetch(`${server.url}/api/studies/${study}/file`)).json()) as {
            runs: object[];
          }
        ).runs.length;
      const at = async (token: string) =>
        ((await (await fetch(`${server.url}/api/intake/${token}`)).json()) as { at: string | null })
          .at;
      // The server may still be closing the connection of what it refused just now.
      const before = await runs().catch(runs);
      const stopping = new AbortController();
      let over = false;
      const send = (token: string, signal?: AbortSignal) =>
        fetch(`${server.url}/api/studies/${study}/log`, {
          method: "POST",
          body,
          signal,
          headers: { "x-nerrit-intake": token },
        }).finally(() => (over = true));
      const stopped = send("stopped-log", stopping.signal).catch(() => null);
      await until("it is under way", async () => (await at("stopped-log")) !== null);
      expect((await fetch(`${server.url}/studies/${study}`)).status).toBe(200);
      expect(over).toBe(false);
      stopping.abort();
      await stopped;
      await until("it has ended", async () => (await at("stopped-log")) === null);
      expect(await runs()).toBe(before);
      const whole = await send("whole-log");
      expect(whole.status).toBe(201);
      expect(await whole.json()).toMatchObject({ measurementIds: [expect.any(String)] });
    },
  );

  it("shows hostile names as they are, and takes no hostile figures", async () => {
    const title = `"><script>window.broken=1</script> =cmd|' /C calc'!A0`;
    const id = await make(server, "/api/studies", { title });
    const page = await (await fetch(`${server.url}/studies/${id}`)).text();
    expect(page).not.toContain("<script>window.broken");
    const typed = { rigId, drill: "haul", direction: "read", source: title };
    const wrong = ["Infinity MB/s", "1e999", "-5", "0", "9".repeat(400), "__proto__"];
    for (const figure of wrong) {
      const body = JSON.stringify({ ...typed, figures: [figure] });
      expect((await call("POST", `/api/studies/${study}/typed`, body)).status).toBe(422);
    }
    const grid = { text: "Rig\tHaul read\n=HYPERLINK(1)\t=1+1\n" };
    const seen = await call("POST", `/api/studies/${study}/grid`, JSON.stringify(grid));
    expect(seen).toMatchObject({ status: 422, message: expect.stringMatching(/Line 2, column 2/) });
    const bench = { drill: "haul", direction: "read", ambientCelsius: 1e9 };
    const simulated = await call("POST", `/api/rigs/${rigId}/simulated`, JSON.stringify(bench));
    expect(simulated).toMatchObject({
      status: 422,
      message: expect.stringMatching(/ambientCelsius/),
    });
  });
});
