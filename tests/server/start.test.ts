import { spawn, spawnSync } from "node:child_process";
import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import Database from "better-sqlite3";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { ROOT, until } from "../support/command";
import { eachFirst, LONG } from "../support/long";
import { freePort, newFolder, startServer } from "../support/server";

/** A start that cannot work says why and ends, before any address is announced. */
describe("a start", () => {
  let folder: string;
  beforeEach(() => {
    folder = fs.mkdtempSync(path.join(os.tmpdir(), "nerrit-start-"));
  });
  afterEach(() => fs.rmSync(folder, { recursive: true, force: true }));

  const start = async (data: string) => {
    const { status, stdout, stderr } = spawnSync(
      process.execPath,
      ["scripts/start.mjs", "--port", String(await freePort())],
      { cwd: ROOT, env: { ...process.env, NERRIT_DATA: data, NODE_ENV: "production" } },
    );
    return { status, stdout: stdout.toString(), words: stderr.toString() };
  };
  const file = () => path.join(folder, "nerrit.sqlite");
  const refused = async (data: string, words: RegExp) => {
    const said = await start(data);
    expect(said.words).toMatch(words);
    expect(said.stdout).not.toMatch(/http:/);
    expect(said.status).toBe(1);
  };

  it("with a file as data folder says that it is one", async () => {
    const plain = path.join(folder, "plain");
    fs.writeFileSync(plain, "mine");
    await refused(plain, /plain cannot be used as the data folder: it is a file.*NERRIT_DATA/);
    expect(fs.readFileSync(plain, "utf8")).toBe("mine");
  });

  it("with an empty database makes no new one in its place", async () => {
    fs.writeFileSync(file(), "");
    await refused(folder, /is empty.*its content was lost/);
    expect(fs.statSync(file()).size).toBe(0);
  });

  it.each([
    ["no database", () => fs.writeFileSync(file(), "x".repeat(8192))],
    [
      "a database with pages overwritten",
      () => {
        const client = new Database(file());
        client.exec("create table t (a text); create index i on t (a)");
        const insert = client.prepare("insert into t values (?)");
        client.transaction(() => {
          for (let i = 0; i < 3000; i++) insert.run(`row ${i} ${"y".repeat(40)}`);
        })();
        client.close();
        const handle = fs.openSync(file(), "r+");
        fs.writeSync(handle, Buffer.alloc(16_384, 0x5a), 0, 16_384, 8192);
        fs.closeSync(handle);
      },
    ],
  ])("with %s says that it is damaged, and leaves it as it is", async (_, make) => {
    make();
    const before = fs.readFileSync(file());
    await refused(folder, /is damaged/);
    expect(fs.readFileSync(file()).equals(before)).toBe(true);
  });

  it("with a database of a newer version says so", async () => {
    const client = new Database(file());
    client.exec(
      "create table __drizzle_migrations (id integer primary key, hash text, created_at numeric); insert into __drizzle_migrations (hash, created_at) values ('later', 9e15)",
    );
    client.close();
    await refused(folder, /written by a newer version/);
  });

  /** The folder, as a first start leaves it. */
  const laidOut = () => {
    fs.rmSync(folder, { recursive: true });
    folder = newFolder();
  };

  it("on the folder of another Nerrit says who has it, and disturbs nothing there", async () => {
    laidOut();
    const first = await startServer(folder);
    try {
      await refused(folder, new RegExp(`in use by another Nerrit at ${first.url}, process \\d+`));
      expect((await fetch(first.url)).status).toBe(200);
    } finally {
      await first.end();
    }
  });

  it("after one that was ended by force finds no lock left behind", LONG, async () => {
    laidOut();
    const second = await startServer(folder);
    await second.end("SIGKILL");
    const third = await startServer(folder);
    expect((await fetch(third.url)).status).toBe(200);
    await third.end();
  });

  eachFirst(["SIGHUP"], ["SIGKILL"])(
    "ends with the npm that began it, ended by %s",
    async (how) => {
      laidOut();
      const port = await freePort();
      const npm = spawn("npm", ["start", "--", "--port", String(port)], {
        cwd: ROOT,
        env: { ...process.env, NERRIT_DATA: folder, NODE_ENV: "production" },
        stdio: ["ignore", "pipe", "ignore"],
      });
      await new Promise<void>((resolve) =>
        npm.stdout.on("data", (text) => String(text).includes("Nerrit is at") && resolve()),
      );
      npm.kill(how);
      const answers = () =>
        fetch(`http://127.0.0.1:${port}`).then(
          () => true,
          () => false,
        );
      await until("the server has ended", async () => !(await answers()));
    },
  );

  it("makes its folder and database for its user alone", LONG, async () => {
    const inside = path.join(folder, "data");
    const server = await startServer(inside);
    const rights = (name: string) => fs.statSync(name).mode & 0o777;
    try {
      expect(rights(inside)).toBe(0o700);
      for (const one of fs.readdirSync(inside, { recursive: true, withFileTypes: true })) {
        const rightsOf = one.isDirectory() ? 0o700 : 0o600;
        expect(rights(path.join(one.parentPath, one.name)), one.name).toBe(rightsOf);
      }
    } finally {
      await server.end();
    }
  });
});
