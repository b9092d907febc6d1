import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { programOf } from "@/core/drills/drill";
import { usualDrill } from "@/core/drills/shape";
import { blankStep } from "@/core/drills/step";
import { openStore, type Store } from "@/store/database";
import { Desk, type DeskEvent } from "./desk";
import { addPart } from "./shelf";
import { addRig, createStudy, findRig, measurement, measurementsOf } from "./studies";

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
const CONDITIONS = {
  event: "conditions",
  conditions: {
    ...{ startedAt: "", nerrit: "", host: "", kernel: "", processor: "", cores: 1, loadAtStart: 0 },
    ...{
      target: "/x",
      targetKind: "directory",
      fileSystem: null,
      mountOptions: null,
      device: null,
    },
    ...{ deviceBytes: null, freeBytes: null, scheduler: null, rotational: null, writeCache: null },
    ...{ requestLimitBytes: null, io: "direct", lane: "native", simulated: false, notes: [] },
  },
};
const started = (repeat = 0) => ({ event: "started", repeat, at: "2026-01-01" });
const sample = (i: number, repeat = 0) => ({
  ...{ event: "sample", repeat, from: i * 100, ms: (i + 1) * 100, bytes: 4e6, written: 0 },
  ...{ requests: 8, step: 0, target: 0 },
});
const samples = (count: number, repeat = 0) =>
  Array.from({ length: count }, (_, i) => sample(i, repeat));
const stepped = (meanMBps: number, repeat = 0) => ({
  ...{ event: "stepped", repeat, step: 0 },
  result: { ...blankStep("flow", {}), meanMBps, bytes: 4e6, ms: 100, requests: 8 },
});
const finished = (repeat = 0) => ({ event: "finished", repeat, errors: [] });

/** Writes the measuring process: it says these lines, then does what stands in `then`. */
function engine(lines: (object | string)[], then = "process.exit(0)"): void {
  const text = lines.map((line) => (typeof line === "string" ? line : JSON.stringify(line)));
  fs.writeFileSync(
    path.join(folder, "engine.mjs"),
    `let said = "";
     process.stdin.on("data", (chunk) => { said += chunk; if (said.includes("stop\\n")) {
       process.stdout.write('{"event":"stopped"}\\n', () => process.exit(0)); } });
     process.stdin.once("data", () => process.stdout.write(${JSON.stringify(text.map((t) => `${t}\n`).join(""))}, () => { ${then} }));`,
  );
}

const begin = () => {
  const order = { drill, targets: ["/x"], program: programOf(drill) };
  const asked = { io: "direct" as const, reserve: null, besideOwnData: false };
  return desk.begin(studyId, findRig(store, rigId).rig, order, asked);
};
const over = (id: string) =>
  new Promise<DeskEvent>((resolve) => {
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
