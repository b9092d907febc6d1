import { spawnSync } from "node:child_process";
import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { ROOT } from "../support/command";
import { afterAll, beforeAll, describe, expect, it } from "vitest";

/** The example of docs/formats.md, on the built command. */

describe("nerrit simulate", () => {
  const folder = fs.mkdtempSync(path.join(os.tmpdir(), "nerrit-simulate-"));
  const file = path.join(folder, "study.json");
  beforeAll(() => {
    const page = fs.readFileSync(path.join(ROOT, "docs/formats.md"), "utf8");
    fs.writeFileSync(file, /<!-- study-example -->\s*```json\n([\s\S]*?)```/.exec(page)![1]!);
  });
  afterAll(() => fs.rmSync(folder, { recursive: true }));
  const nerrit = (...args: string[]) => {
    const options = { encoding: "utf8" as const, maxBuffer: 2 ** 28 };
    return spawnSync(
      process.execPath,
      [path.join(ROOT, "dist/cli.mjs"), "simulate", ...args],
      options,
    );
  };
  const json = (...args: string[]) => JSON.parse(nerrit(file, "--json", ...args).stdout);

  it("gives the same document for the same seed, and says that it is simulated", () => {
    const args = [file, "--rig", "with K2", "--drill", "haul", "--seed", "7", "--json"];
    const { stdout, status } = nerrit(...args);
    expect(status).toBe(0);
    expect(nerrit(...args).stdout).toBe(stdout);
    const made = JSON.parse(stdout);
    expect(made).toMatchObject({ simulated: true, origin: "simulated", seed: 7, rig: "with K2" });
    expect(made.samples).toHaveLength(100);
    expect(made.meanMBps).toBeLessThan(482);
    expect(nerrit(file, "--rig", "A").stdout).toMatch(/^SIMULATED/);
  });

  it("takes what is set of the drill, the bench and its faults", () => {
    const sound = json("--rig", "A", "--repeats", "2", "--noise", "0", "--seconds", "2");
    expect(sound.repeats).toMatchObject({ n: 2, spread: 0 });
    const dropped = json("--rig", "A", "--fault", "dropped@serac");
    expect(dropped.meanMBps).toBeLessThan(sound.meanMBps / 2);
    const proof = json("--rig", "A", "--drill", "proof", "--fault", "counterfeit@Moraine=1e9");
    expect(proof.faults).toHaveLength(1);
  });

  it.each([
    [["--rig", "Z"], /there is no rig "Z"; there are "with K5", "with K2"/],
    [[], /name a rig with --rig/],
    [["--rig", "A", "--fault", "gremlin"], /there is no "gremlin"/],
    [["--rig", "A", "--fault", "flaky@K9"], /say at which part/],
    [["--rig", "A", "--noise", "-1"], /noise: must be at least 0/],
    [["--rig", "A", "--seed", "x"], /--seed must be a number/],
    [["--rig", "A", "--drill", "haul", "--places", "3"], /nothing that can be set of haul/],
  ])("refuses %j with exit status 2", (args, words) => {
    const { status, stderr } = nerrit(file, ...args);
    expect(status).toBe(2);
    expect(stderr).toMatch(words);
  });
});
