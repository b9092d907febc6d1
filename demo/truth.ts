import type { SimulationInput } from "@/core/simulate/model";

/** What the parts of the demo really are: the simulated bench knows it, the shelf does not. */
export const DEMO_TRUTH: NonNullable<SimulationInput["parts"]> = {
  "demo-moraine": { requestUs: { read: 62, write: 14 } },
  "demo-esker": { requestUs: { read: 74, write: 16 } },
  // The same bridge limits every drive that is put inside.
  "demo-till": { limits: { read: 612, write: 588 } },
  // Its shell takes the heat of about a minute and a half.
  "demo-cornice": { heat: { riseCelsius: 96, tauSeconds: 70, limitCelsius: 68, leastShare: 0.3 } },
  "demo-talus": {
    requestUs: { read: 88, write: 22 },
    cache: { stages: [{ bytes: 92e9 }], foldedMBps: 168, recoverMBps: 320 },
    filled: 0.2,
  },
  "demo-varve": { requestUs: { read: 95, write: 30 }, channels: 8 },
  // Its processor answers so many requests of the share a second, each after a while.
  "demo-depot": { requestUs: { read: 420, write: 640 }, meter: { iops: 9000 } },
  "demo-drumlin-1": { medium: "disk", channels: 1 },
  "demo-drumlin-2": { medium: "disk", channels: 1 },
  "demo-drumlin-3": { medium: "disk", channels: 1 },
  "demo-drumlin-4": { medium: "disk", channels: 1 },
};
