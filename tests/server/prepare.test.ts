import { spawn, type ChildProcess } from "node:child_process";
import { once } from "node:events";
import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { ROOT, until } from "../support/command";

/** The preparing of a clone, in a small project of its own whose npm is a stand-in that counts. */
describe("preparing a clone", () => {
  let clone: string;
  let bin: string;
  const running: ChildProcess[] = [];
  /** As npm writes it; its hidden one names only what is installed here. */
  const lockOf = (version: string, here = false) =>
    JSON.stringify({
      packages: {
        ...(here ? {} : { "": {}, "node_modules/elsewhere": { version, optional: true } }),
        "node_modules/fjord": { version },
      },
    });
  const hidden = () => path.join(clone, "node_modules/.package-lock.json");
  const installs = () =>
    fs.existsSync(path.join(bin, "count"))
      ? fs.readFileSync(path.join(bin, "count"), "utf8").trim().split("\n").length
      : 0;

  beforeEach(() => {
    clone = fs.mkdtempSync(path.join(os.tmpdir(), "nerrit-clone-"));
    bin = fs.mkdtempSync(path.join(os.tmpdir(), "nerrit-npm-"));
    fs.mkdirSync(path.join(clone, "scripts"));
    for (const file of ["scripts/prepare.mjs", "scripts/mend-links.mjs"]) {
      fs.copyFileSync(path.join(ROOT, file), path.join(clone, file));
    }
    fs.writeFileSync(path.join(clone, "package-lock.json"), lockOf("1.0.0"));
    // As npm ci does: everything away, the packages, and the hidden lock file last.
    fs.writeFileSync(
      path.join(bin, "npm"),
      `#!/bin/sh
echo one >> "${bin}/count"
rm -rf node_modules
mkdir -p node_modules/fjord
echo '{}' > node_modules/fjord/package.json
while [ -e "${bin}/hold" ]; do sleep 0.05; done
[ -e "${bin}/fail" ] && exit 1
sed -E 's/"":\\{\\},"node_modules\\/elsewhere":[^}]*\\},//' package-lock.json > node_modules/.package-lock.json
`,
      { mode: 0o755 },
    );
  });
  afterEach(() => {
    for (const child of running.splice(0)) if (child.exitCode === null) child.kill("SIGKILL");
    for (const folder of [clone, bin]) fs.rmSync(folder, { recursive: true, force: true });
  });

  function start(step = "install") {
    const code = `import("./scripts/prepare.mjs").then((all) => all.${step}())`;
    const child = spawn(process.execPath, ["--input-type=module", "-e", code], {
      cwd: clone,
      env: { ...process.env, PATH: `${bin}:${process.env.PATH}` },
      stdio: ["ignore", "ignore", "pipe"],
      detached: true,
    });
    running.push(child);
    let said = "";
    child.stderr.on("data", (chunk) => (said += chunk));
    const over = once(child, "close").then(([status]) => ({ status: status as number, said }));
    return { child, over, said: () => said };
  }
  const hold = (on: boolean) =>
    on ? fs.writeFileSync(path.join(bin, "hold"), "") : fs.rmSync(path.join(bin, "hold"));

  it("installs once, and knows that it has", async () => {
    expect((await start().over).status).toBe(0);
    expect((await start().over).said).toBe("");
    expect(installs()).toBe(1);
  });

  it("lets a second command wait for the first, and says so", async () => {
    hold(true);
    const first = start();
    await until("the first installs", () => installs() === 1);
    const second = start();
    await until("the second waits", () => /waiting for it/.test(second.said()));
    hold(false);
    expect((await first.over).status).toBe(0);
    expect((await second.over).status).toBe(0);
    expect(installs()).toBe(1);
  });

  it("takes what somebody installed by hand", async () => {
    fs.mkdirSync(path.join(clone, "node_modules/fjord"), { recursive: true });
    fs.writeFileSync(path.join(clone, "node_modules/fjord/package.json"), "{}");
    fs.writeFileSync(hidden(), lockOf("1.0.0", true));
    expect((await start().over).status).toBe(0);
    expect(installs()).toBe(0);
  });

  it.each([
    [
      "another version is wanted",
      () => fs.writeFileSync(path.join(clone, "package-lock.json"), lockOf("2.0.0")),
    ],
    [
      "a package has gone",
      () => fs.rmSync(path.join(clone, "node_modules/fjord"), { recursive: true }),
    ],
    ["npm never came to its end", () => fs.rmSync(hidden())],
    ["npm's own file is damaged", () => fs.writeFileSync(hidden(), "{")],
  ])("installs again where %s", async (_, break_) => {
    await start().over;
    break_();
    expect((await start().over).status).toBe(0);
    expect(installs()).toBe(2);
  });

  it("builds once, again where a source holds something else, and not where only its time is another", async () => {
    const source = path.join(clone, "src/core/one.ts");
    const built = path.join(clone, "built");
    fs.mkdirSync(path.dirname(source), { recursive: true });
    fs.writeFileSync(source, "1");
    fs.writeFileSync(
      path.join(clone, "scripts/build.mjs"),
      `import fs from "node:fs"; fs.appendFileSync(${JSON.stringify(built)}, "x");`,
    );
    const builds = async () => {
      expect((await start("buildCommand").over).status).toBe(0);
      return fs.readFileSync(built, "utf8").length;
    };
    expect(await builds()).toBe(1);
    expect(await builds()).toBe(1);
    fs.utimesSync(source, 1e9, 1e9);
    expect(await builds()).toBe(1);
    // As long as before.
    fs.writeFileSync(source, "2");
    expect(await builds()).toBe(2);
    fs.writeFileSync(path.join(clone, "src/core/another.ts"), "");
    expect(await builds()).toBe(3);
    fs.writeFileSync(path.join(clone, "src/core/one.test.ts"), "what is only tested");
    expect(await builds()).toBe(3);
    fs.writeFileSync(path.join(clone, "dist/.built"), "");
    expect(await builds()).toBe(4);
  });

  it("makes links again of what a checkout without links holds as text, and of nothing else", async () => {
    const folder = path.join(clone, "demo/systems/one/block");
    fs.mkdirSync(folder, { recursive: true });
    fs.writeFileSync(path.join(folder, "sda"), "../devices/sda");
    fs.writeFileSync(path.join(folder, "attribute"), "../not a link\n");
    expect((await start().over).status).toBe(0);
    expect(fs.readlinkSync(path.join(folder, "sda"))).toBe("../devices/sda");
    expect(fs.lstatSync(path.join(folder, "attribute")).isFile()).toBe(true);
  });

  it("says that it failed, and repairs that at the next start", async () => {
    fs.writeFileSync(path.join(bin, "fail"), "");
    const failed = await start().over;
    expect(failed.status).toBe(1);
    expect(failed.said).toMatch(/installing dependencies failed/);
    fs.rmSync(path.join(bin, "fail"));
    expect((await start().over).status).toBe(0);
    expect(installs()).toBe(2);
  });

  it("repairs what was interrupted; while what it began still writes, nobody else does", async () => {
    hold(true);
    const first = start();
    await until("npm is at work", () => installs() === 1);
    // Only the command itself dies; npm, which it started, goes on.
    first.child.kill("SIGKILL");
    const second = start();
    await until("the second waits", () => /waiting for it/.test(second.said()));
    expect(installs()).toBe(1);
    hold(false);
    expect((await second.over).status).toBe(0);
    expect(fs.existsSync(hidden())).toBe(true);
  });
});
