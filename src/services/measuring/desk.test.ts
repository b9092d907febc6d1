import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { UNSAID } from "@/core/run/stated";
import { programOf } from "@/core/drills/drill";
import { usualDrill } from "@/core/drills/shape";
import { openStore, type Store } from "@/store/database";
import type { MeasurementEvent } from "@/core/study/measurement-event";
import { Desk } from "./desk";
import { addPart } from "../shelf/shelf";
import { addRig, createStudy, findRig, measurement, measurementsOf } from "../studies/studies";
import { CONDITIONS, finished, samples, started, stepped, writeEngine } from "../testing/engine";

/** The desk with a measuring process that says what a test has written down for it. */
let folder: string;
let store: Store;
let desk: Desk;
let studyId: string;
let rigId: string;

beforeEach(() => {
  folder = fs.mkdtempSync(path.join(os.tmpdir(), "nerrit-desk-"));
  store = openStore(folder);
  desk = new Desk(store, folder, "test", path.join(folder, "engine.mjs"));
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

const drill = usualDrill("haul", "read", { repeats: 2 });
/** Writes the measuring process: it says these lines, then does what stands in `then`. */
const engine = (lines: (object | string)[], then?: string) =>
  writeEngine(path.join(folder, "engine.mjs"), lines, then);

const begin = () => {
  const order = { drill, places: [{ host: null, path: "/x" }], program: programOf(drill) };
  const asked = { io: "direct" as const, reserve: null, besideOwnData: false, stated: UNSAID };
  return desk.begin(studyId, findRig(store, rigId).rig, order, asked);
};
const over = (id: string) =>
  new Promise<MeasurementEvent>((resolve) => {
    const leave = desk.follow(id, (event) => event.event === "ended" && resolve(event));
    if (!leave) resolve({ event: "ended", status: measurement(store, id).status, reason: null });
  });

describe("the desk", () => {
  it("keeps every repeat with its samples, steps, events and readings", async () => {
    const what = { ms: 50, kind: "stalled", text: "quiet", from: null };
    const reading = { ms: 60, engine: 0.1, machine: 0.4, celsius: { drive: 41 } };
    engine([
      CONDITIONS,
      { event: "preparing", bytes: 1, total: 2 },
      ...[0, 1].flatMap((repeat) => [
        started(repeat),
        ...samples(25, repeat),
        { event: "happened", repeat, what },
        { event: "reading", repeat, reading },
        stepped(40 + repeat, repeat),
        finished(repeat),
      ]),
      { event: "done" },
    ]);
    const id = await begin();
    await over(id);
    const { status, runs } = measurement(store, id);
    expect(status).toBe("done");
    expect(runs.map(({ result }) => result!.meanMBps)).toEqual([40, 41]);
    for (const run of runs) {
      expect(run.samples).toHaveLength(25);
      expect(run.steps).toHaveLength(1);
      expect(run.events).toEqual([what]);
      expect(run.readings).toEqual([reading]);
    }
  });

  it("stores nothing of an order that is refused, and says why", async () => {
    engine([{ event: "refused", code: "no-space", reason: "There is no room." }]);
    await expect(begin()).rejects.toMatchObject({
      status: 422,
      code: "no-space",
      message: "There is no room.",
    });
    expect(measurementsOf(store, studyId)).toEqual([]);
  });

  it.each([
    [
      "says that it failed",
      [{ event: "failed", reason: "The drive went away." }],
      "process.exit(0)",
      "failed",
      /went away/,
    ],
    ["is killed", [], 'process.kill(process.pid, "SIGKILL")', "interrupted", /SIGKILL/],
    [
      "crashes",
      [],
      'process.stderr.write("out of memory"); process.exit(7)',
      "interrupted",
      /status 7.*out of memory/,
    ],
    [
      "ends in the middle of a line",
      ['{"event":"sam'],
      "process.exit(0)",
      "interrupted",
      /before the run was over/,
    ],
  ] as const)("keeps what there is when the process %s", async (_, last, then, status, reason) => {
    engine(
      [CONDITIONS, started(), ...samples(14), "no JSON at all", ...last],
      `setTimeout(() => { ${then} }, 50)`,
    );
    const id = await begin();
    await over(id);
    const found = measurement(store, id);
    expect(found.status).toBe(status);
    expect(found.reason).toMatch(reason);
    expect(found.runs[0]).toMatchObject({ status });
    expect(found.runs[0]!.samples).toHaveLength(14);
  });

  it("says what is removed of what a killed process had left", async () => {
    const swept = { event: "swept", target: "/x", bytes: 130_000_000 };
    engine([CONDITIONS, started(), swept], 'process.kill(process.pid, "SIGKILL")');
    const id = await begin();
    await over(id);
    await expect
      .poll(() => measurement(store, id).reason)
      .toMatch(/SIGKILL.* removed: 130 MB in \/x/);
    expect(measurement(store, id).status).toBe("interrupted");
  });

  it("stores samples while they come, at most a second late", async () => {
    engine([CONDITIONS, started(), ...samples(36)], "setInterval(() => undefined, 1000)");
    const id = await begin();
    await new Promise<void>((resolve) => {
      const look = () => {
        const [run] = measurement(store, id).runs;
        if ((run?.samples.length ?? 0) > 24) resolve();
        else setTimeout(look, 20);
      };
      look();
    });
    expect(desk.stop(id)).toBe(true);
    await over(id);
    expect(measurement(store, id).runs[0]!.samples).toHaveLength(36);
    expect(desk.stop(id)).toBe(false);
    expect(desk.follow(id, () => undefined)).toBeNull();
  });

  it("ends runs as interrupted when it is shut down, and takes no more", async () => {
    engine([CONDITIONS, started(), ...samples(3)], "setInterval(() => undefined, 1000)");
    const id = await begin();
    await desk.shutDown();
    expect(measurement(store, id)).toMatchObject({ status: "interrupted" });
    await expect(begin()).rejects.toMatchObject({ status: 409 });
  });
});
