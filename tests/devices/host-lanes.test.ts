import fs from "node:fs";
import { createRequire } from "node:module";
import os from "node:os";
import path from "node:path";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { askOn } from "@/services/hosts/ask-on";
import { readyHost, type EngineReady, type ReadyHost } from "@/services/hosts/ready";
import { ROOT } from "../support/command";
import { makeHosts, whyNoHosts, type SshHosts } from "../support/ssh-hosts";

const dist = path.join(ROOT, "dist");
const why =
  (await whyNoHosts()) ??
  (fs.existsSync(path.join(dist, "lanes.node")) ? null : "there is no C compiler");
if (why) console.warn(`skipped: the compiled part on hosts (${why})`);

describe.skipIf(why)("the compiled part on a host", () => {
  let made: SshHosts;
  const folders: string[] = [];
  const folder = () => {
    folders.push(fs.mkdtempSync(path.join(os.tmpdir(), "nerrit-lanes-")));
    return folders.at(-1)!;
  };
  /** Programs of a small system with a runtime, and no compiler. */
  const withoutCompiler = () => {
    const bin = folder();
    for (const name of ["sh", "uname", "sed", "head", "grep", "date", "df", "mkdir", "rm", "ls"])
      fs.symlinkSync(`/bin/${name}`, path.join(bin, name));
    fs.symlinkSync(process.execPath, path.join(bin, "node"));
    return bin;
  };
  beforeAll(async () => {
    made = await makeHosts([{ name: "lab2" }, { name: "bare", env: { PATH: withoutCompiler() } }]);
    process.env.NERRIT_SSH_CONFIG = made.config;
  });
  afterAll(async () => {
    delete process.env.NERRIT_SSH_CONFIG;
    await made.remove();
    for (const one of folders) fs.rmSync(one, { recursive: true });
  });

  /** What is built here, with something in place of the compiled part. */
  const builtWith = (change: (lanes: string) => void) => {
    const copy = folder();
    fs.cpSync(dist, copy, { recursive: true });
    change(path.join(copy, "lanes.node"));
    return copy;
  };
  const lanesOf = (ready: ReadyHost) =>
    path.join(path.dirname((ready as EngineReady).engine), "lanes.node");
  const runs = (lanes: string) =>
    typeof (createRequire(import.meta.url)(lanes) as { startLanes?: unknown }).startLanes;

  it.each<[string, (lanes: string) => void]>([
    ["does not run there", (lanes) => fs.writeFileSync(lanes, "of another processor")],
    ["is not to be had here", (lanes) => fs.rmSync(lanes)],
  ])("is compiled there where what is sent %s", async (_, change) => {
    const ready = await readyHost("lab2", builtWith(change));
    expect(runs(lanesOf(ready))).toBe("function");
    expect(await askOn(ready, { ask: "drives" })).toMatchObject({ answer: "drives" });
    expect(fs.readdirSync(path.dirname(lanesOf(ready))).toSorted()).toEqual([
      "copy-side.mjs",
      "engine.mjs",
      "lanes-source",
      "lanes.node",
      "portable-lane.mjs",
    ]);
  });

  it("is taken as it was sent where it runs", async () => {
    const ready = await readyHost("lab2", dist);
    const [sent, own] = [lanesOf(ready), path.join(dist, "lanes.node")];
    expect(fs.readFileSync(sent).equals(fs.readFileSync(own))).toBe(true);
  });

  it("is left out where it neither runs nor can be compiled, and everything else works", async () => {
    const built = builtWith((lanes) => fs.writeFileSync(lanes, "of another processor"));
    const ready = await readyHost("bare", built);
    expect(ready.facts.compiler).toBeNull();
    expect(fs.existsSync(lanesOf(ready))).toBe(false);
    expect(await askOn(ready, { ask: "drives" })).toMatchObject({ answer: "drives" });
  });
});
