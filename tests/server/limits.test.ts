import fs from "node:fs";
import net from "node:net";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { LONG } from "../support/long";
import { startServer, type Server } from "../support/server";

/** Bodies at, above and short of what they may be, on the server as it runs: a limit refuses, it never cuts. */
describe("what the server takes in", () => {
  let server: Server;
  const JSON_LIMIT = 256 * 1024;
  const FILE_LIMIT = 16 * 1024 * 1024;

  beforeAll(async () => {
    server = await startServer();
  });
  afterAll(async () => {
    await server.end();
    fs.rmSync(server.data, { recursive: true, force: true });
  });

  /** Each on a connection of its own: the server may close one on which it refused a body. */
  const ask = (url: string, init: RequestInit = {}) =>
    fetch(server.url + url, { ...init, headers: { ...init.headers, Connection: "close" } });
  const get = async (url: string) => (await ask(url)).json();
  const parts = async () => ((await get("/api/parts")) as unknown[]).length;
  const send = async (method: string, url: string, body: string | Uint8Array<ArrayBuffer>) => {
    const response = await ask(url, {
      method,
      headers: { "Content-Type": "application/json" },
      body,
    });
    const answer = (await response.json()) as { error?: { message: string } };
    return { status: response.status, message: answer.error?.message ?? "" };
  };
  /** A body of exactly so many bytes: JSON may be followed by spaces. */
  const sized = (body: unknown, bytes: number) => JSON.stringify(body).padEnd(bytes, " ");

  const connectors = [{ side: "up", modes: ["sata-6g"] }];
  const drive = { kind: "drive", name: "Sized", connectors };
  const rig = { name: "r", partIds: ["demo-port", "demo-cable-k5", "demo-serac", "demo-moraine"] };
  const routes: [string, string, unknown][] = [
    ["POST", "/api/parts", drive],
    ["PUT", "/api/parts/demo-moraine", { ...drive, name: "Moraine 1T" }],
    ["PATCH", "/api/parts/demo-moraine", { retired: false }],
    ["POST", "/api/parts/fitting", {}],
    [
      "POST",
      "/api/modes",
      {
        name: "Sized",
        rate: 8,
        lanes: 1,
        code: "8b/10b",
        payload: 1024,
        overhead: 32,
        duplex: "full",
        shared: "no",
        protocol: "nvme",
        low: 0.8,
        high: 0.9,
      },
    ],
    ["PUT", "/api/modes", { id: "usb-5g" }],
    ["DELETE", "/api/modes", { id: "none" }],
    ["POST", "/api/studies", { title: "Sized" }],
    ["PATCH", "/api/studies/demo-first", { tolerance: 0.05 }],
    ["PUT", "/api/opinion", { priors: {}, minutes: {}, fewest: "steps" }],
    [
      ...(["POST", "/api/studies/demo-first/steps"] as const),
      { rig: { like: "demo-rig-k5" }, drill: "haul", direction: "read" },
    ],
    ["POST", "/api/studies/demo-first/rigs", rig],
    ["PUT", "/api/studies/demo-first/demands", []],
    ["PUT", "/api/rigs/demo-rig-k5", { ...rig, name: "K5" }],
    ["PATCH", "/api/rigs/demo-rig-k5", { studyId: "demo-first", position: 0 }],
    ["POST", "/api/rigs/demo-rig-k5/measurements", { target: "/no/such/place", direction: "read" }],
    ["POST", "/api/system", { path: "/no/such/place" }],
  ];
  it.each(routes)(
    "%s %s reads a body of the limit and refuses one byte more",
    async (method, url, body) => {
      const full = await send(method, url, sized(body, JSON_LIMIT));
      expect(full.message).not.toMatch(/larger|arrived|not JSON/);
      expect(full.status).not.toBe(413);
      const over = await send(method, url, sized(body, JSON_LIMIT + 1));
      expect(over).toMatchObject({
        status: 413,
        message: expect.stringMatching(/larger than 256 KiB/),
      });
    },
  );

  /** A shelf as CSV of exactly so many bytes. @returns it, and how many parts it holds */
  function shelf(bytes: number) {
    const head = "kind,name,modes_up,notes\n";
    const row = (i: number) => `drive,Drive ${i},sata-6g,${"x".repeat(900)}\n`;
    let text = head;
    let count = 0;
    while (text.length + row(count).length + 60 <= bytes) text += row(count++);
    const last = `drive,Last,sata-6g,`;
    text += `${last}${"y".repeat(bytes - text.length - last.length - 1)}\n`;
    return { text, count: count + 1 };
  }

  it("takes every row of a file beyond what the framework hands on by itself, or none", async () => {
    const before = await parts();
    const { text, count } = shelf(12 * 1024 * 1024);
    const taken = await ask("/api/shelf/import", { method: "POST", body: text });
    expect(await taken.json()).toEqual({ added: count });
    expect(await parts()).toBe(before + count);
  });

  it("takes a file just below its limit whole, and refuses one just above", LONG, async () => {
    const before = await parts();
    const { text, count } = shelf(FILE_LIMIT);
    const taken = await ask("/api/shelf/import", { method: "POST", body: text });
    expect(await taken.json()).toEqual({ added: count });
    const over = await send("POST", "/api/shelf/import", shelf(FILE_LIMIT + 1).text);
    expect(over).toMatchObject({
      status: 413,
      message: expect.stringMatching(/larger than 16 MiB/),
    });
    expect(await parts()).toBe(before + count);
  });

  it("refuses what is larger still, and what does not say how large it is", async () => {
    const before = await parts();
    for (const bytes of [FILE_LIMIT + 1, 26 * 1024 * 1024]) {
      const { text } = shelf(bytes);
      const stream = new Blob([text]).stream();
      const options: RequestInit & { duplex: "half" } = {
        method: "POST",
        body: stream,
        duplex: "half",
      };
      // Refused by its answer, or by a connection that is closed on a body without end.
      const status = await ask("/api/shelf/import", options).then(
        (response) => response.status,
        () => 413,
      );
      expect(status).toBe(413);
    }
    expect(await parts()).toBe(before);
  });

  it("takes nothing of a body that breaks off before its announced end", async () => {
    const before = await parts();
    const { hostname, port, host } = new URL(server.url);
    const body = "kind,name,modes_up\ndrive,Half,sata-6g\n";
    const request = `POST /api/shelf/import HTTP/1.1\r\nHost: ${host}\r\nContent-Length: ${body.length + 500}\r\n\r\n${body}`;
    for (const leave of ["end", "destroy"] as const) {
      await new Promise<void>((resolve) => {
        const socket = net.connect(Number(port), hostname, () => {
          socket.write(request, () => setTimeout(() => socket[leave](), 200));
        });
        socket.on("close", () => resolve());
        socket.on("error", () => resolve());
        socket.resume();
      });
    }
    await new Promise((resolve) => setTimeout(resolve, 300));
    expect(await parts()).toBe(before);
  });

  it("takes no bytes that are no text", async () => {
    const bytes = Uint8Array.from([...new TextEncoder().encode("kind,name\ndrive,"), 0xff, 0xfe]);
    expect(await send("POST", "/api/shelf/import", bytes)).toMatchObject({
      status: 400,
      message: expect.stringMatching(/not text in UTF-8/),
    });
  });

  const unclean: [string, string, unknown][] = [
    ["POST", "/api/parts", { ...drive, name: "a\0b" }],
    ["POST", "/api/parts", { ...drive, tag: "a\u001b[31mb" }],
    ["POST", "/api/parts", { ...drive, serial: "half \ud800" }],
    ["POST", "/api/parts", { ...drive, notes: "a\u0007" }],
    ["POST", "/api/studies", { title: "a\u0085b" }],
    ["POST", "/api/studies/demo-first/rigs", { ...rig, name: "a\tb" }],
    ["POST", "/api/studies/demo-first/rigs", { ...rig, host: "a\u007fb" }],
    ["POST", "/api/modes", { name: "a\nb", rate: 8 }],
    ["POST", "/api/system", { path: "/mnt\0" }],
    ["POST", "/api/rigs/demo-rig-k5/measurements", { target: "/mnt\0", direction: "read" }],
    ["PUT", "/api/studies/demo-first/demands", [{ name: "x\u0000", streams: [], copies: [] }]],
  ];
  it.each(unclean)("%s %s refuses control characters: %j", async (method, url, body) => {
    expect(await send(method, url, JSON.stringify(body))).toMatchObject({
      status: 422,
      message: expect.stringMatching(/must not hold control characters/),
    });
  });

  it("takes notes of several lines, and any letters", async () => {
    const notes = "first\nsecond\tŁódź ☃ 𝔘";
    const added = await ask("/api/parts", {
      method: "POST",
      body: JSON.stringify({ ...drive, name: "Ærø 雪", notes }),
    });
    expect(added.status).toBe(201);
    const { id } = (await added.json()) as { id: string };
    const all = (await get("/api/parts")) as { id: string; notes: string }[];
    expect(all.find((part) => part.id === id)!.notes).toBe(notes);
  });

  const wrong: [unknown, string | RegExp][] = [
    [{ name: "x" }, "kind: is missing"],
    [{ ...drive, name: 5 }, "name: must be text"],
    [{ ...drive, connectors: "all" }, "connectors: must be a list"],
    [
      { ...drive, connectors: [{ side: "up", modes: [7] }] },
      /^connectors 1, modes 1: must be text/,
    ],
    [{ ...drive, connectors: [{ side: "left", modes: ["sata-6g"] }] }, /one of up, down, through/],
    [{ ...drive, kind: "boat" }, /kind: must be one of host-port/],
    [{ ...drive, capacityBytes: 1.5 }, "capacityBytes: must be a whole number"],
    [{ ...drive, capacityBytes: -1 }, "capacityBytes: must be above 0"],
    [{ ...drive, price: { amount: -1, currency: "EUR" } }, "price, amount: must be at least 0"],
    [{ ...drive, claims: [{ kind: "boast" }] }, /claims 1/],
    [null, "The request must be an object with named fields."],
    [[], "The request must be an object with named fields."],
  ];
  it.each(wrong)("says of %j in plain words: %s", async (body, words) => {
    const { status, message } = await send("POST", "/api/parts", JSON.stringify(body));
    expect(status).toBe(422);
    if (typeof words === "string") expect(message).toBe(words);
    else expect(message).toMatch(words);
    expect(message).not.toMatch(/Invalid|expected|received|undefined|NaN/);
  });

  it.each(["/", "/shelf", "/nowhere", "/api/parts", "/api/shelf/export?format=csv", "/icon.svg"])(
    "guards %s with a policy of its own",
    async (url) => {
      const { headers } = await ask(url);
      const policy = headers.get("content-security-policy");
      expect(policy).toMatch(/default-src 'self'/);
      expect(policy).toMatch(/frame-ancestors 'none'/);
      expect(policy).not.toMatch(/script-src[^;]*unsafe/);
      expect(headers.get("x-content-type-options")).toBe("nosniff");
      expect(headers.get("x-frame-options")).toBe("DENY");
      expect(headers.get("referrer-policy")).toBe("no-referrer");
    },
  );
});
