import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { afterAll, describe, expect, it } from "vitest";
import { StudyFile, studyOf, type StudyFileInput } from "@/core/exchange/study-file";
import { nerrit } from "../../../tests/support/command";
import { locatedDocument } from "./locate";
import { conclusionsIn } from "./study-file";

const USB = ["usb-480m", "usb-5g", "usb-10g"];
const SLOT = ["pcie-3.0-x2"];
const up = (modes: string[]) => ({ side: "up" as const, modes });
const down = (modes: string[]) => ({ side: "down" as const, modes });
const through = { side: "through" as const, modes: USB };
const study = (more: Partial<StudyFileInput> = {}): StudyFileInput => ({
  format: "nerrit-study",
  version: 1,
  title: "A slow rig",
  parts: [
    { id: "p", kind: "host-port", name: "Port", connectors: [down(USB)] },
    { id: "k1", kind: "cable", name: "K1", connectors: [through] },
    { id: "k2", kind: "cable", name: "K2", connectors: [through] },
    { id: "b", kind: "enclosure", name: "Box", connectors: [up(USB), down(SLOT)] },
    { id: "d", kind: "drive", name: "Disk", connectors: [up(SLOT)] },
  ],
  rigs: [
    { id: "slow", name: "slow", partIds: ["p", "k1", "b", "d"], fileSystem: "ext4" },
    { id: "free", name: "free", partIds: ["p", "k2", "b", "d"], fileSystem: "ext4" },
  ],
  runs: [
    { rigId: "slow", drill: { name: "haul", direction: "read" }, ratesMBps: [450, 447] },
    { rigId: "free", drill: { name: "haul", direction: "read" }, ratesMBps: [1010, 1020] },
  ],
  ...more,
});
const documentOf = (input: StudyFileInput) =>
  conclusionsIn(studyOf(StudyFile.parse(input)))
    .located()
    .map(locatedDocument);

describe("locating from a study's file", () => {
  it("has an entry for each rig and drill with runs, the likeliest explanation first", () => {
    const rigs = documentOf(study());
    expect(rigs.map(({ rigId }) => rigId).toSorted()).toEqual(["free", "slow"]);
    const slow = rigs.find(({ rigId }) => rigId === "slow")!;
    expect(slow).toMatchObject({ drill: { name: "haul", direction: "read" } });
    expect(slow.observedMBps).toBeCloseTo(448.5, 1);
    expect(slow.explanations[0]).toMatchObject({ kind: "dropped-mode", at: { part: "k1" } });
    const chances = slow.explanations.map(({ probability }) => probability);
    expect(chances).toEqual(chances.toSorted((a, b) => b - a));
    expect(chances.reduce((a, b) => a + b, 0)).toBeLessThanOrEqual(1);
    expect(slow.explanations[0]!.for.join()).toMatch(/All else in slow has carried clearly more/);
    const free = rigs.find(({ rigId }) => rigId === "free")!;
    expect(free).toMatchObject({ settled: true, nextSwaps: [] });
    expect(free.explanations[0]).toMatchObject({ kind: "as-designed", at: { ledger: "b" } });
  });

  it("names a next swap as a whole rig that can be entered", () => {
    const only = study({ rigs: study().rigs.slice(0, 1), runs: study().runs!.slice(0, 1) });
    const [slow] = documentOf(only);
    const [next] = slow!.nextSwaps;
    expect(next!.rig).toMatchObject({ partIds: ["p", "k2", "b", "d"], fileSystem: "ext4" });
    expect(next!.bits).toBeGreaterThan(0.3);
    const sum = next!.outcomes.reduce((all, { probability }) => all + probability, 0);
    expect(sum).toBeGreaterThan(0.8);
    expect(sum).toBeLessThanOrEqual(1.001);
    // The rig it names can be taken in as it is.
    const rig = { ...next!.rig, id: "next" };
    expect(() => StudyFile.parse(study({ rigs: [...study().rigs, rig] }))).not.toThrow();
  });

  it("says that memory answered where a rate is more than the links carry", () => {
    const fast = { rigId: "slow", drill: { name: "haul", direction: "read" } as const };
    const [slow] = documentOf(study({ runs: [{ ...fast, ratesMBps: [3000, 3010] }] }));
    expect(slow).toMatchObject({ settled: false });
    expect(slow!.explanations[0]!.at).toEqual({ condition: "memory" });
  });

  it("has nothing to say of a study without runs", () =>
    expect(documentOf(study({ runs: [] }))).toEqual([]));
});

describe("the command", () => {
  const folder = fs.mkdtempSync(path.join(os.tmpdir(), "nerrit-locate-"));
  const file = path.join(folder, "study.json");
  afterAll(() => fs.rmSync(folder, { recursive: true }));
  const built = fs.existsSync(path.resolve(import.meta.dirname, "../../../dist/cli.mjs"));

  it.skipIf(!built)("prints a document, or sentences that fit a terminal", async () => {
    fs.writeFileSync(file, JSON.stringify(study()));
    const { stdout, status } = await nerrit(["locate", file, "--json"]);
    expect(status).toBe(0);
    expect(JSON.parse(stdout).rigs).toHaveLength(2);
    const text = (await nerrit(["locate", file])).stdout;
    expect(text).toMatch(/slow reads 44[89] MB\/s/);
    expect(Math.max(...text.split("\n").map(({ length }) => length))).toBeLessThanOrEqual(80);
  });

  it.skipIf(!built)("refuses what is no study, and says what is wrong", async () => {
    fs.writeFileSync(file, '{"format":"nerrit-study"}');
    const { stderr, status } = await nerrit(["locate", file]);
    expect(status).toBe(2);
    expect(stderr).toContain(file);
  });
});
