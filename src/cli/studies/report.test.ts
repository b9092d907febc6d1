import { spawnSync } from "node:child_process";
import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { unzipSync } from "fflate";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { twoBoxes } from "@/core/testing/two-boxes";

const root = path.resolve(import.meta.dirname, "../../..");

describe("nerrit report", () => {
  let folder: string;
  let study: string;
  beforeAll(() => {
    spawnSync(process.execPath, ["scripts/prepare.mjs", "command"], { cwd: root });
    folder = fs.mkdtempSync(path.join(os.tmpdir(), "nerrit-report-"));
    study = path.join(folder, "study.json");
    const report = { author: "Field team", sections: [{ key: "gear", text: "Lent." }] };
    fs.writeFileSync(study, JSON.stringify({ ...twoBoxes(), report }));
  }, 120_000);
  afterAll(() => fs.rmSync(folder, { recursive: true }));
  const report = (name: string, ...options: string[]) => {
    const out = path.join(folder, name);
    const args = ["bin/nerrit.mjs", "report", study, "--out", out, ...options];
    const { status, stderr } = spawnSync(process.execPath, args, { cwd: root, encoding: "utf8" });
    return { status, stderr, bytes: fs.existsSync(out) ? fs.readFileSync(out) : Buffer.alloc(0) };
  };

  it("writes one page, as the study's file has chosen it", () => {
    const { status, bytes } = report("one.html");
    expect(status).toBe(0);
    expect(bytes.includes("<title>Does it deliver?</title>")).toBe(true);
    expect(bytes.includes("Field team")).toBe(true);
    expect(bytes.includes("Lent.")).toBe(true);
  });

  it("writes it as it is asked for here, and the rest as chosen", () => {
    const { bytes } = report(
      "two.html",
      "--unit",
      "Gb/s",
      "--numbers",
      "1.234,5",
      "--without",
      "gear",
      "runs",
    );
    expect(bytes.includes("4,82")).toBe(true);
    expect(bytes.includes('id="gear"')).toBe(false);
    expect(bytes.includes('id="runs"')).toBe(false);
    expect(bytes.includes("Field team")).toBe(true);
  });

  it("writes everything by itself into an archive", () => {
    const { status, bytes } = report("all.zip");
    expect(status).toBe(0);
    expect(Object.keys(unzipSync(bytes))).toEqual(
      expect.arrayContaining(["report.html", "report.md", "study.zip", "tables/runs.csv"]),
    );
  });

  it("refuses what makes no sense, and writes over nothing", () => {
    expect(report("one.html")).toMatchObject({
      status: 2,
      stderr: expect.stringMatching(/is there already/),
    });
    expect(report("x.html", "--unit", "furlongs")).toMatchObject({ status: 2 });
    expect(report("y.html", "--without", "advert")).toMatchObject({
      status: 2,
      stderr: expect.stringMatching(/advert|sections/),
    });
    expect(fs.readdirSync(folder).toSorted()).toEqual([
      "all.zip",
      "one.html",
      "study.json",
      "two.html",
    ]);
  });
});
