import { createHash } from "node:crypto";
import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import type { Drill } from "@/core/drills/drill";
import { checkRecordings, recordingsFor, takeRecordings } from "./in-study";

const TEXT = `seconds,operation,offset,bytes,seconds_to_answer,program\n0,read,0,4096,0.001,make\n`;
const sha256 = createHash("sha256").update(TEXT).digest("hex");
const work = {
  name: "make, version 1.2",
  sha256,
  requests: 1,
  ms: 1,
  bytesRead: 4096,
  bytesWritten: 0,
  workingSetBytes: 4096,
};
const drill: Drill = { name: "encore", direction: "mixed", repeats: 1, recordings: [work] };
const haul: Drill = { name: "haul", direction: "read", repeats: 1 };
const filed = { sha256, name: work.name, text: TEXT };

describe("the recordings of a study in its file", () => {
  let folder: string;
  beforeEach(() => {
    folder = fs.mkdtempSync(path.join(os.tmpdir(), "nerrit-in-study-"));
  });
  afterEach(() => fs.rmSync(folder, { recursive: true }));

  it("are those that its runs did again, each once, as far as they are here", () => {
    const file = path.join(folder, "work.csv");
    fs.writeFileSync(file, TEXT);
    const measurements = [{ drill }, { drill: haul }, { drill }];
    expect(recordingsFor(measurements, () => file)).toEqual([filed]);
    expect(recordingsFor(measurements, () => null)).toEqual([]);
    fs.truncateSync(file, 40 * 2 ** 20);
    expect(recordingsFor(measurements, () => file)).toEqual([]);
  });

  it("are looked through before anything is kept", () => {
    expect(() => checkRecordings([filed])).not.toThrow();
    const broken = (text: string) => ({
      ...filed,
      text,
      sha256: createHash("sha256").update(text).digest("hex"),
    });
    expect(() => checkRecordings([{ ...filed, text: `${TEXT}more` }])).toThrow(/recordings 1/);
    expect(() => checkRecordings([filed, broken("a,b\n1,2\n")])).toThrow(
      /recordings 2: is no recording/,
    );
    expect(() => checkRecordings([broken(TEXT.replace("read", "scribble"))])).toThrow(/line 2/);
  });

  it("are kept where they are not here yet, all or none, and taken away again", async () => {
    const kept = new Map<string, string>();
    const recordings = {
      fileWith: (of: string) => (kept.has(of) ? "here" : null),
      take: async (bytes: Uint8Array, name: string) => {
        if (name.startsWith("idle")) throw new Error("nothing to do again");
        const of = createHash("sha256").update(bytes).digest("hex");
        kept.set(of, name);
        return { id: of, startedAt: "2026-03-01T10:00:00.000Z", isSample: false, work };
      },
      remove: (id: string) => void kept.delete(id),
    };
    const undo = await takeRecordings(recordings, [filed]);
    expect([...kept.values()]).toEqual(["make, version 1.2.jsonl"]);
    const again = await takeRecordings(recordings, [filed]);
    again();
    expect(kept.size).toBe(1); // it was here before
    undo();
    expect(kept.size).toBe(0);
    const idle = { sha256: "0".repeat(64), name: "idle", text: "x" };
    await expect(takeRecordings(recordings, [filed, idle])).rejects.toThrow(/nothing to do/);
    expect(kept.size).toBe(0);
  });
});
