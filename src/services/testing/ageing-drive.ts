import { BARE_RIG, type Rig } from "@/core/chain/rig";
import { simulatedDrill } from "@/core/simulate/measure";
import { Simulation } from "@/core/simulate/model";
import { simulateRun, simulatedConditions } from "@/core/simulate/run";
import { rowOf } from "@/core/exchange/runs-file";
import { UNSAID } from "@/core/run/stated";
import type { Store } from "@/store/database";
import { DEMO_PARTS } from "@demo/shelf";
import { insertRecorded } from "../elsewhere/runs-file";
import { addPart } from "../shelf/shelf";
import { addRig, createStudy, openStudy } from "../studies/studies";

const DAY_MS = 86_400_000;
const FIRST = Date.UTC(2025, 2, 1);
/** Days on which its rigs are measured, since the first. */
const DAYS = [0, 31, 64, 92, 200, 260, 330, 400];
/** From the sixth on the drive gives this share of what it gave. */
const SLOWER_FROM = 260;
const LEFT = 0.11;

/**
 * Two studies that measure one drive over a year, each behind a box, a cable and a port of its own, on a host of its
 * own; then the drive becomes slower.
 *
 * @returns the ids of the studies and of the drive
 */
export function measureAgeingDrive(store: Store): { studies: string[]; drive: string } {
  const part = (name: keyof typeof DEMO_PARTS, more: object = {}) =>
    addPart(store, { ...DEMO_PARTS[name]!, ...more });
  const drive = part("demo-moraine", { name: "Old drive" });
  const studies = ["desk", "lab"].map((host) => {
    const study = createStudy(store, { title: `The drive on ${host}` });
    const chain = [
      part("demo-port", { name: `Port of ${host}` }),
      part("demo-cable-k5", { name: `Cable of ${host}` }),
      part("demo-serac", { name: `Box of ${host}` }),
    ];
    addRig(store, study, {
      name: `On ${host}`,
      partIds: [...chain, drive],
      transport: "usb-queued",
      fileSystem: "ext4",
      host,
    });
    const [rig] = openStudy(store, study).rigs;
    for (const day of DAYS) insertDay(store, study, { rig: rig!, drive, day });
    return study;
  });
  return { studies, drive };
}

/** Stores what one rig gave on one day. */
function insertDay(
  store: Store,
  study: string,
  { rig, drive, day }: { rig: Rig; drive: string; day: number },
): void {
  const simulation = Simulation.parse({});
  const drill = simulatedDrill(
    { name: "haul", direction: "read", repeats: 2, seconds: 2 },
    rig,
    simulation,
  );
  const left = day >= SLOWER_FROM ? LEFT : 1;
  const parts = rig.parts.map((part) =>
    part.id === drive ? { ...part, limits: { read: part.limits.read! * left } } : part,
  );
  const createdAt = new Date(FIRST + day * DAY_MS).toISOString();
  insertRecorded(
    store,
    study,
    { ...BARE_RIG, ...rig },
    {
      id: crypto.randomUUID(),
      origin: "measured",
      drill,
      status: "done",
      reason: null,
      createdAt,
      warmUp: false,
      targets: ["/mnt/drive"],
      stated: UNSAID,
      conditions: {
        ...simulatedConditions(rig, simulation, createdAt, "0"),
        host: rig.host,
        io: "direct",
      },
      runs: [0, 1].map((repeat) => {
        const run = simulateRun({ ...rig, parts }, drill, simulation, { seed: day, repeat });
        return {
          status: "done" as const,
          startedAt: createdAt,
          steps: run.steps,
          samples: run.samples.map(rowOf),
          events: [],
          readings: [],
          errors: [],
        };
      }),
    },
  );
}
