import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { programOf } from "@/core/drills/drill";
import { usualDrill } from "@/core/drills/shape";
import type { FarReading } from "@/core/run/far-host";
import { UNSAID } from "@/core/run/stated";
import { openStore, type Store } from "@/store/database";
import { addPart } from "../shelf/shelf";
import { addRig, createStudy, findRig, measurement } from "../studies/studies";
import { CONDITIONS, finished, samples, started, stepped } from "../testing/engine";
import { StandInHost } from "../testing/stand-in-host";
import { Desk } from "./desk";

let folder: string;
let store: Store;
let desk: Desk;
let host: StandInHost;
let hear: (reading: FarReading, agoMs: number) => void;
let say: (text: string) => void;
let followed: string[];
let left: number;

const drill = usualDrill("haul", "read", { repeats: 1 });
beforeEach(() => {
  folder = fs.mkdtempSync(path.join(os.tmpdir(), "nerrit-far-side-"));
  store = openStore(folder);
  host = new StandInHost();
  followed = [];
  left = 0;
  desk = new Desk(store, folder, "test", undefined, {
    startOn: host.start,
    followFar: (name, heard, said) => {
      if (name !== "router") return null;
      followed.push(name);
      [hear, say] = [heard, said];
      return () => (left += 1);
    },
  });
});
afterEach(async () => {
  await desk.shutDown();
  store.$client.close();
  fs.rmSync(folder, { recursive: true });
});

/** Begins a run of a rig whose share some machine serves. */
async function begin(farHost: string): Promise<string> {
  const studyId = createStudy(store, { title: "Far" });
  const modes = ["ethernet-1g"];
  const partIds = [
    addPart(store, { kind: "host-port", name: "LAN", connectors: [{ side: "down", modes }] }),
    addPart(store, { kind: "drive", name: "Share", connectors: [{ side: "up", modes }] }),
  ];
  const rigId = addRig(store, studyId, { name: "Rig", partIds, farHost });
  const order = { drill, places: [{ host: "lab2", path: "/x" }], program: programOf(drill) };
  const asked = { io: "direct" as const, reserve: null, besideOwnData: false, stated: UNSAID };
  const begun = desk.begin(studyId, findRig(store, rigId).rig, order, asked);
  host.tell(CONDITIONS);
  return begun;
}

const second = (busiest: number): FarReading => ({
  host: "router",
  cores: [12, busiest],
  memory: 0.5,
  moved: { eth0: { kind: "interface", read: 1, written: 45, busy: null } },
});

/** A run of 2.5 s of samples, with what the far host tells after it. */
async function run(id: string, ...told: FarReading[]) {
  host.tell(started(), ...samples(25));
  for (const [i, one] of told.entries()) hear(one, 100 * (told.length - i));
  host.tell(stepped(40), finished());
  host.end({ kind: "done" });
  await desk.ended(id);
  return measurement(store, id).runs[0]!;
}

describe("the far host of a share", () => {
  it("is followed during the run, and what it did is kept with the result", async () => {
    const id = await begin("router");
    const { result, readings } = await run(id, second(98), second(100));
    expect(readings.map(({ far }) => far?.cores[1])).toEqual([98, 100]);
    expect(result!.farHost).toMatchObject({
      host: "router",
      seconds: 2,
      core: { number: 1, mean: 0.99, peak: 1 },
      moved: { eth0: { written: 45 } },
    });
    expect(left).toBe(1);
  });

  it("says nothing of a run before its first counted moment", async () => {
    const id = await begin("router");
    hear(second(100), 0);
    const { result, readings } = await run(id);
    expect(readings).toEqual([]);
    expect(result!.farHost).toBeUndefined();
  });

  it("has what comes late put where it was", async () => {
    const id = await begin("router");
    const { readings } = await run(id, second(98), second(99));
    const [first, then] = readings.map(({ ms }) => ms);
    // The one was taken a tenth of a second before the other, whenever they came.
    expect(then! - first!).toBeGreaterThanOrEqual(100);
  });

  it("is connected to only where it is a host of the bench", async () => {
    const id = await begin("a box in the cellar");
    expect((await run(id)).result).not.toBeNull();
    expect(followed).toEqual([]);
  });

  it("that cannot be looked at is said in the run, and ends nothing", async () => {
    const id = await begin("router");
    say("router cannot be seen.");
    const { events, status } = await run(id);
    expect(status).toBe("done");
    expect(events.map(({ text }) => text)).toEqual(["router cannot be seen."]);
  });

  it("is not left followed where the run is refused", async () => {
    const begun = begin("router");
    host.end({ kind: "refused", code: "x", reason: "There is no such folder." });
    await begun.catch(() => undefined);
    expect(left).toBe(followed.length);
  });
});
