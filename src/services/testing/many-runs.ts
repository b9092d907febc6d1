import { BARE_RIG, type Rig } from "@/core/chain/rig";
import { simulateRun, simulatedConditions } from "@/core/simulate/run";
import { simulatedDrill } from "@/core/simulate/measure";
import { Simulation } from "@/core/simulate/model";
import { rowOf } from "@/core/exchange/runs-file";
import type { Store } from "@/store/database";
import { DEMO_PARTS } from "@demo/shelf";
import { UNSAID } from "@/core/run/stated";
import { addPart } from "../shelf/shelf";
import { insertRecorded } from "../elsewhere/runs-file";
import { addRig, createStudy, openStudy } from "../studies/studies";

/** A study of many runs, for benches: rigs that differ in their cable, drills of many kinds, repeats. */
export function seedManyRuns(
  store: Store,
  {
    rigs: rigCount,
    repeats,
    tracesOf,
    title = "Very many runs",
  }: { rigs: number; repeats: number; tracesOf: number; title?: string },
): string {
  const { studyId, rigs } = store.transaction(() => rigsIn(store, title, rigCount), {
    behavior: "immediate",
  });
  const drills: [string, "read" | "write", object][] = [
    ["haul", "read", { seconds: 5 }],
    ["haul", "write", { seconds: 5 }],
    ["scatter", "read", { seconds: 5, depth: 1 }],
    ["scatter", "write", { seconds: 5, depth: 1 }],
    ["long-fill", "write", { seconds: 30 }],
    ["stride-ladder", "read", { seconds: 1 }],
    ["stride-ladder", "write", { seconds: 1 }],
    ["depth-ladder", "read", { seconds: 1 }],
    ["traverse", "read", { seconds: 1 }],
    ["traverse", "write", { seconds: 1 }],
  ];
  const simulation = Simulation.parse({});
  let made = 0;
  for (const rig of rigs) {
    // Simulated first: whoever writes to the same database meanwhile waits only for what is stored.
    const recorded = drills.map((drill) => simulated(rig, drill));
    store.transaction(
      () => {
        for (const one of recorded) insertRecorded(store, studyId, { ...BARE_RIG, ...rig }, one);
      },
      { behavior: "immediate" },
    );
  }
  return studyId;

  /** What one drill gives on a rig, with all its repeats. */
  function simulated(rig: Rig, [name, direction, set]: (typeof drills)[number]) {
    const drill = simulatedDrill({ ...set, name, direction, repeats }, rig, simulation);
    const createdAt = new Date(1.7e12 + made * 60e3).toISOString();
    return {
      id: crypto.randomUUID(),
      origin: "simulated" as const,
      drill,
      status: "done" as const,
      reason: null,
      createdAt,
      warmUp: false,
      targets: ["simulated rig"],
      stated: UNSAID,
      conditions: simulatedConditions(rig, simulation, createdAt, "0"),
      runs: Array.from({ length: repeats }, (_, repeat) => {
        made += 1;
        const run = simulateRun(rig, drill, simulation, { seed: made, repeat });
        const isTraced = made % Math.max(1, Math.round(1 / tracesOf)) === 0;
        return {
          status: "done" as const,
          startedAt: createdAt,
          steps: run.steps,
          samples: isTraced ? run.samples.map(rowOf) : [],
          events: [],
          readings: [],
          errors: [],
        };
      }),
    };
  }
}

/** A study with its rigs. */
function rigsIn(store: Store, title: string, count: number): { studyId: string; rigs: Rig[] } {
  const studyId = createStudy(store, { title });
  const part = (name: keyof typeof DEMO_PARTS, more: object = {}) =>
    addPart(store, { ...DEMO_PARTS[name]!, ...more });
  const [port, box, drive] = [part("demo-port"), part("demo-serac"), part("demo-moraine")];
  for (let i = 0; i < count; i++) {
    const cable = part(i % 3 === 0 ? "demo-cable-k2" : "demo-cable-k5", { name: `cable ${i + 1}` });
    addRig(store, studyId, {
      name: `Laptop rear · cable ${i + 1}`,
      partIds: [port, cable, box, drive],
      transport: "usb-queued",
      fileSystem: "ext4",
    });
  }
  return { studyId, rigs: openStudy(store, studyId).rigs };
}
