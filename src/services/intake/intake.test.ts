import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { openStore, type Store } from "@/store/database";
import { addPart } from "../shelf/shelf";
import { addRig, createStudy, tracedMeasurementsOf } from "../studies/studies";
import { takeLog } from "../elsewhere/log";
import { saveStudy } from "../studies/save-study";
import { takeApart, type IntakeOrder } from "./order";
import { inSlices } from "./slices";

const nobody = () => undefined;
const bytesOf = (value: unknown) => new TextEncoder().encode(JSON.stringify(value));

describe("a large input", () => {
  let folder: string;
  let store: Store;
  let study: string;
  let rigId: string;
  beforeAll(() => {
    folder = fs.mkdtempSync(path.join(os.tmpdir(), "nerrit-intake-"));
    store = openStore(folder);
    study = createStudy(store, { title: "Intake" });
    const modes = ["usb-5g"];
    rigId = addRig(store, study, {
      name: "bare",
      partIds: [
        addPart(store, { kind: "host-port", name: "rear", connectors: [{ side: "down", modes }] }),
        addPart(store, { kind: "drive", name: "Disk", connectors: [{ side: "up", modes }] }),
      ],
    });
  });
  afterAll(() => {
    store.$client.close();
    fs.rmSync(folder, { recursive: true });
  });
  const log = (lines: number) =>
    `time,read MB/s,temp °C\n${Array.from({ length: lines }, (_, i) => `${i},${400 + (i % 5)},${40 + Math.floor(i / 100)}\n`).join("")}`;

  it("is taken apart without the store, and comes to the same as at once", () => {
    const input = { text: log(2500), rigId, drill: "haul", direction: "read", name: "a log" };
    const order: IntakeOrder = { kind: "log", bytes: bytesOf(input) };
    const made = takeApart(order, nobody) as { kept: { runs: { packed: object }[] } };
    expect(made.kept.runs[0]!.packed).toMatchObject({
      stretches: [expect.anything(), expect.anything(), expect.anything()],
    });
    takeLog(store, study, input);
    const [one] = tracedMeasurementsOf(store, study);
    expect(one!.runs[0]!.samples).toHaveLength(2500);
    expect(one!.runs[0]!.samples.at(-1)!.bytes).toBe(404e6);
    // Of temperatures that stay the same the ends are kept, and no change is lost.
    const warm = one!.runs[0]!.readings.map(({ celsius }) => celsius.log);
    expect(warm).toHaveLength(50);
    expect(new Set(warm).size).toBe(25);
  });

  it("keeps every sample of a study's file through packing", () => {
    const saved = saveStudy(store, study).bytes;
    const made = takeApart({ kind: "study", bytes: saved }, nobody) as {
      runs: { runs: { samples: unknown[]; packed: { stretches: Uint8Array[] } }[] }[];
    };
    expect(made.runs[0]!.runs[0]!.samples).toEqual([]);
    expect(made.runs[0]!.runs[0]!.packed.stretches).toHaveLength(3);
  });

  it.each<[string, IntakeOrder["kind"], Uint8Array, RegExp]>([
    ["no JSON", "runs", new TextEncoder().encode("{"), /no JSON/],
    ["more lists than any file has", "study", new Uint8Array(7e6).fill(0x5b), /more than any/],
    ["a list without end", "study", bytesOf({ runs: Array(30_000).fill(0) }), /at most 20000/],
    ["a line without end", "log-look", bytesOf({ text: "1 ".repeat(1e6) }), /longer than 64 KiB/],
    ["no runs", "runs", bytesOf({ rigs: {}, file: {} }), /./],
  ])("is refused where it has %s", (_, kind, bytes, words) => {
    expect(() => takeApart({ kind, bytes }, nobody)).toThrow(words);
  });

  describe("is stored in slices", () => {
    const rows = () => store.$client.prepare("select count(*) n from parts").get() as { n: number };
    const adds = (): void => {
      const modes = ["usb-5g"];
      addPart(store, { kind: "drive", name: "more", connectors: [{ side: "up", modes }] });
    };
    it("and leaves nothing where it fails, or is stopped", async () => {
      const before = rows().n;
      let undone = 0;
      const signal = new AbortController().signal;
      function* failing() {
        yield;
        adds();
        throw new Error("cannot go on");
      }
      await expect(
        inSlices(store, failing(), { signal, undo: () => void (undone += 1) }),
      ).rejects.toThrow("cannot go on");
      // The slice that failed is gone by itself; what earlier ones wrote is taken back.
      expect([rows().n, undone]).toEqual([before, 1]);
      const stopping = new AbortController();
      function* endless() {
        for (;;) {
          yield;
          stopping.abort();
        }
      }
      await expect(
        inSlices(store, endless(), { signal: stopping.signal, undo: () => void (undone += 1) }),
      ).rejects.toThrow();
      expect(undone).toBe(2);
    });

    it("and others have their turn in between", async () => {
      const turns: string[] = [];
      function* steps() {
        // Goes on until the other had its turn; where none is given, the test ends and says so.
        const until = performance.now() + 20_000;
        while (turns.length === 0 && performance.now() < until) yield;
        turns.push("done");
        return 7;
      }
      const other = new Promise<void>((resolve) =>
        setImmediate(() => {
          turns.push("other");
          resolve();
        }),
      );
      const { signal } = new AbortController();
      expect(await inSlices(store, steps(), { signal, undo: nobody })).toBe(7);
      await other;
      expect(turns).toEqual(["other", "done"]);
    });
  });
});
