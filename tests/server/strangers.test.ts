import { spawnSync } from "node:child_process";
import fs from "node:fs";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { startServer, type Server } from "../support/server";

/** Who and what is not let in: other users of the machine, other pages, and what is no request. */
describe("the server and strangers", () => {
  let server: Server;
  beforeAll(async () => {
    server = await startServer();
  });
  afterAll(async () => {
    await server.end();
    fs.rmSync(server.data, { recursive: true, force: true });
  });

  /** Sends bytes as they are, perhaps as another user. @returns the status line's number */
  const raw = (request: string, as = process.getuid!()) => {
    const { port } = new URL(server.url);
    const program = `
      const net = require("node:net");
      const socket = net.connect(${port}, "127.0.0.1", () => socket.write(${JSON.stringify(request)}));
      socket.once("data", (data) => { console.log(String(data).split(" ")[1]); socket.destroy(); });
      socket.once("error", () => undefined);`;
    const { stdout } = spawnSync(process.execPath, ["-e", program], { uid: as, cwd: "/" });
    return Number(stdout.toString().trim());
  };
  const get = (path: string, headers = "") =>
    `GET ${path} HTTP/1.1\r\nHost: ${new URL(server.url).host}\r\n${headers}Connection: close\r\n\r\n`;
  const study = (title: string) => {
    const body = JSON.stringify({ title });
    return `POST /api/studies HTTP/1.1\r\nHost: ${new URL(server.url).host}\r\nContent-Type: application/json\r\nContent-Length: ${body.length}\r\nConnection: close\r\n\r\n${body}`;
  };

  it.skipIf(process.getuid!() !== 0)(
    "lets no other user of the machine read or change anything",
    async () => {
      const nobody = 65534;
      expect(raw(get("/"), nobody)).toBe(403);
      expect(raw(study("by nobody"), nobody)).toBe(403);
      expect(raw(get("/"))).toBe(200);
      expect(raw(study("by its user"))).toBe(201);
      const page = await (await fetch(server.url)).text();
      expect(page).toContain("by its user");
      expect(page).not.toContain("by nobody");
    },
  );

  it("takes no mark of its own from outside", () => {
    expect(raw(get("/", "x-nerrit-refused: other user\r\n"))).toBe(200);
  });

  it("answers a page elsewhere by the first page alone", () => {
    for (const site of ["cross-site", "same-site"]) {
      const from = `Sec-Fetch-Site: ${site}\r\n`;
      expect(raw(get("/shelf", from))).toBe(403);
      expect(raw(get("/api/parts", from))).toBe(403);
      expect(raw(get("/", from))).toBe(200);
    }
    expect(raw(get("/shelf", "Sec-Fetch-Site: same-origin\r\n"))).toBe(200);
    expect(raw(get("/shelf", "Sec-Fetch-Site: none\r\n"))).toBe(200);
  });

  it("answers what is no address, and methods that it has not, by what they are", () => {
    for (const path of ["/%", "/%zz", "/studies/%E0%A4%A", "/api/parts/%ff"])
      expect(raw(get(path)), path).toBe(400);
    expect(raw(get("/").replace("GET", "TRACE"))).toBe(405);
  });
});
