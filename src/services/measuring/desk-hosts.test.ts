import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { programOf } from "@/core/drills/drill";
import { usualDrill } from "@/core/drills/shape";
import { UNSAID } from "@/core/run/stated";
import type { MeasurementEvent } from "@/core/study/measurement-event";
import { openStore, type Store } from "@/store/database";
import { addPart } from "../shelf/shelf";
import { addRig, createStudy, findRig, measurement } from "../studies/studies";
import { CONDITIONS, finished, samples, started, stepped } from "../testing/engine";
import { StandInHost } from "../testing/stand-in-host";
import { Desk } from "./desk";
import { Occupation } from "./occupation";

let folder: string;
let store: Store;
let desk: Desk;
let host: StandInHost;
let studyId: string;
let rigId: string;

const drill = usualDrill("haul", "read", { repeats: 1 });
let occupation: Occupation;
const boot = () => {
  occupation = new Occupation(store);
  const assertFree = () => occupation.assertFree();
  return (desk = new Desk(store, folder, "test", undefined, { startOn: host.start, assertFree }));
};
beforeEach(() => {
  folder = fs.mkdtempSync(path.join(os.tmpdir(), "nerrit-desk-hosts-"));
  store = openStore(folder);
  host = new StandInHost();
  boot();
  studyId = createStudy(store, { title: "Desk" });
  const modes = ["stated-40"];
  const partIds = [
    addPart(store, { kind: "host-port", name: "Port", connectors: [{ side: "down", modes }] }),
    addPart(store, { kind: "drive", name: "Disk", connectors: [{ side: "up", modes }] }),
  ];
  rigId = addRig(store, studyId, { name: "Rig", partIds });
});
afterEach(async () => {
  await desk.shutDown();
  store.$client.close();
  fs.rmSync(folder, { recursive: true });
});

/** Begins a run on the host, which accepts it. */
async function begin(): Promise<string> {
  const order = { drill, places: [{ host: "lab2", path: "/x" }], program: programOf(drill) };
  const asked = { io: "direct" as const, reserve: null, besideOwnData: false, stated: UNSAID };
  const begun = desk.begin(studyId, findRig(store, rigId).rig, order, asked);
  host.tell(CONDITIONS);
  return begun;
}
const WHOLE = [CONDITIONS, started(), ...samples(25), stepped(40), finished()];
const OUT = { host: "lab2", outSince: 5, reason: "The line to lab2 ended." };

describe("the desk, of runs on a host", () => {
  it("keeps where the run was, and keeps its own folder off nothing there", async () => {
    const id = await begin();
    host.tell(...WHOLE.slice(1));
    host.end({ kind: "done" });
    expect(await desk.ended(id)).toMatchObject({ status: "done" });
    expect(measurement(store, id).target).toBe("lab2:/x");
    expect(host.runs[0]).toMatchObject({ host: "lab2", id, job: { keepOff: null } });
  });

  it("puts what comes again in place of what an earlier server stored", async () => {
    const id = await begin();
    const told = { ms: 5, kind: "stalled" as const, text: "quiet", from: null };
    const whole = [
      ...WHOLE.slice(0, 2),
      { event: "happened", repeat: 0, what: told },
      ...WHOLE.slice(2),
    ];
    host.tell(...whole.slice(1, 3), ...samples(14));
    desk.note(id, "case 48 °C", 0);
    boot().recover();
    expect(host.runs.at(-1)).toMatchObject({ host: "lab2", id, job: null });
    // Nothing has come yet: what is stored stays.
    expect(measurement(store, id).runs[0]!.samples.length).toBeGreaterThan(0);
    expect(measurement(store, id).status).toBe("running");
    host.tell(...whole);
    host.end({ kind: "done" });
    await desk.ended(id);
    const { runs, status } = measurement(store, id);
    expect(status).toBe("done");
    expect(runs).toHaveLength(1);
    expect(runs[0]!.samples).toHaveLength(25);
    // The tester's own note is told by nobody again.
    expect(runs[0]!.events.map(({ text }) => text).toSorted()).toEqual(["case 48 °C", "quiet"]);
    expect(runs[0]!.readings).toHaveLength(1);
  });

  it("keeps what is stored of a run that is not found there any more", async () => {
    const id = await begin();
    host.tell(started(), ...samples(14));
    boot().recover();
    host.end({ kind: "interrupted", reason: "lab2 was started anew." });
    await desk.ended(id);
    const { runs, status, reason } = measurement(store, id);
    expect(status).toBe("interrupted");
    expect(reason).toMatch(/started anew/);
    expect(runs[0]!.samples.length).toBeGreaterThan(0);
  });

  it("tells since when the host is out of touch, also whoever asks later", async () => {
    const id = await begin();
    const heard: MeasurementEvent[] = [];
    desk.follow(id, (event) => heard.push(event));
    host.touched(OUT);
    expect(heard).toEqual([{ event: "touch", ...OUT }]);
    const later: MeasurementEvent[] = [];
    desk.follow(id, (event) => later.push(event));
    expect(later).toEqual(heard);
    host.touched({ ...OUT, outSince: null, reason: null });
    expect(later.at(-1)).toMatchObject({ event: "touch", outSince: null });
    const after: MeasurementEvent[] = [];
    desk.follow(id, (event) => after.push(event));
    expect(after).toEqual([]);
  });

  it("stops a run as the server ends, and leaves one that is out of touch for the next server", async () => {
    const near = await begin();
    await desk.shutDown();
    expect(host.runs[0]!.isStopped).toBe(true);
    expect(measurement(store, near).status).toBe("interrupted");
    boot();
    const far = await begin();
    host.touched(OUT);
    await desk.shutDown();
    expect(host.runs.at(-1)!.isStopped).toBe(false);
    boot().recover();
    expect(host.runs.at(-1)).toMatchObject({ id: far, job: null });
  });

  it("sweeps on the host what a run left there that was cut off", async () => {
    const id = await begin();
    host.tell(started());
    host.end({ kind: "interrupted", reason: "The process there was killed." });
    await desk.ended(id);
    await expect.poll(() => host.runs).toHaveLength(2);
    expect(host.runs[1]).toMatchObject({ host: "lab2", job: { sweep: ["/x"] } });
    host.tell({ event: "swept", target: "/x", bytes: 5e6 });
    host.end({ kind: "done" });
    await expect.poll(() => measurement(store, id).reason).toMatch(/5 MB in lab2:\/x/);
  });

  it("begins none while the bench itself is measured, and lets that begin beside no run", async () => {
    const leave = occupation.begin("The network to lab2 is being measured.");
    await expect(begin()).rejects.toThrow(/network to lab2/);
    expect(() => occupation.begin("lab2 is being checked.")).toThrow(/network to lab2/);
    expect(host.runs).toEqual([]);
    leave();
    const id = await begin();
    expect(() => occupation.begin("lab2 is being checked.")).toThrow(/A run goes on/);
    host.end({ kind: "done" });
    await desk.ended(id);
    occupation.begin("lab2 is being checked.")();
  });
});
