import fs from "node:fs";
import path from "node:path";
import { describe, expect, it } from "vitest";
import { nerrit } from "../../tests/support/command";

const dist = path.resolve(import.meta.dirname, "../../dist");
/** The names under which main.ts loads its commands. */
function commands(): string[] {
  const text = fs.readFileSync(path.join(import.meta.dirname, "main.ts"), "utf8");
  const table = /const COMMANDS[^]*?\n};/.exec(text)![0];
  return [...table.matchAll(/^ {2}(\w+):/gm)].map(([, name]) => name!);
}

describe.skipIf(!fs.existsSync(path.join(dist, "cli.mjs")))("nerrit", () => {
  it("lists every command, though each is loaded only where it is asked for", async () => {
    const { status, stdout } = await nerrit(["--help"]);
    expect(status).toBe(0);
    for (const name of commands()) expect(stdout).toMatch(new RegExp(`^ {2}${name} `, "m"));
    expect(commands().length).toBeGreaterThan(10);
  });

  it(
    "calls each command by the name that it is listed under",
    { timeout: 60_000, tags: "long" },
    async () => {
      for (const name of commands()) {
        const { status, stdout } = await nerrit([name, "--help"]);
        expect([name, status]).toEqual([name, 0]);
        expect(stdout).toMatch(new RegExp(`^Usage: nerrit ${name}`));
      }
      expect((await nerrit(["help", "locate"])).stdout).toMatch(/^Usage: nerrit locate/);
    },
  );

  it.each(["nothing", "__proto__", "constructor"])("knows no command %s", async (name) => {
    const { status, stderr } = await nerrit([name]);
    expect(status).toBe(2);
    expect(stderr).toMatch(/unknown command/);
  });

  it("leaves no pieces of an earlier build beside those in use", () => {
    const files = fs.readdirSync(dist).filter((name) => name.startsWith("cli-"));
    const used = new Set<string>();
    const follow = (file: string): void => {
      for (const [, name] of fs
        .readFileSync(path.join(dist, file), "utf8")
        .matchAll(/(?:from|import\()\s*"\.\/(cli-[^"]+)"/g))
        if (!used.has(name!)) {
          used.add(name!);
          follow(name!);
        }
    };
    follow("cli.mjs");
    expect(files.filter((name) => !used.has(name))).toEqual([]);
  });
});
