import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { afterEach, beforeEach, expect, it } from "vitest";
import { anyRecording } from "@/core/recording/any-recording";
import { Recordings } from "./recordings";
import { putSamples, putSamplesIfPossible, removeSamples } from "./samples";

let folder: string;
let recordings: Recordings;
beforeEach(() => {
  folder = path.join(fs.mkdtempSync(path.join(os.tmpdir(), "nerrit-samples-")), "kept");
  recordings = new Recordings(folder, "no command");
});
afterEach(() => fs.rmSync(path.dirname(folder), { recursive: true }));

it("can be done again at once, and say the same as their files", async () => {
  putSamples(folder);
  const works = await recordings.works();
  expect(works).toHaveLength(3);
  for (const { id, isSample, work } of works) {
    expect(isSample).toBe(true);
    expect(recordings.fileWith(work.sha256)).toBe(recordings.file(id).path);
    const { requests } = anyRecording(fs.readFileSync(recordings.file(id).path, "utf8"));
    expect(requests.length).toBe(work.requests);
    expect(recordings.file(id).bytes).toBeLessThan(500_000);
    expect(fs.statSync(recordings.file(id).path).mode & 0o777).toBe(0o600);
  }
});

it("come back where they are missing, and leave the tester's own when they go", async () => {
  putSamples(folder);
  const own = path.join(folder, "sdb-20260301T101500123.jsonl");
  fs.writeFileSync(own, "");
  const [first] = await recordings.works();
  recordings.remove(first!.id);
  putSamples(folder);
  expect(await recordings.works()).toHaveLength(3);
  removeSamples(folder);
  expect(fs.readdirSync(folder)).toEqual([path.basename(own)]);
});

it("keep no server from starting where they cannot be put", () => {
  fs.writeFileSync(folder, "no folder");
  expect(() => putSamples(folder)).toThrow();
  expect(() => putSamplesIfPossible(folder)).not.toThrow();
});
