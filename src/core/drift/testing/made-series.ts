import { normal, seeded } from "../../simulate/noise";
import type { Series } from "../series";

/** What is made: a bench that measures its rigs again and again, and a part of it that may change. */
export interface MadeBench {
  seed: number;
  /** Days of measuring, over two years. */
  days?: number;
  rigs?: number;
  /** How far days scatter, and single rates of a day, as shares. */
  dayNoise?: number;
  noise?: number;
  /** By how much a part changes (-0.2 is a fifth slower), at once or little by little. */
  change?: { of: string; share: number; shape: "step" | "slope"; atDay: number };
}

const FIRST = Date.UTC(2024, 0, 1);
const DAY_MS = 86_400_000;

/** The day of a bench by its number: 0 is the first. */
export const madeDay = (day: number): string =>
  new Date(FIRST + day * DAY_MS).toISOString().slice(0, 10);

/** Days that a made bench lasts. */
export const LASTS_DAYS = 730;

const KINDS = { port: 2, cable: 3, box: 3, drive: 3 };

/** Series as studies would tell them: in each rig one part of each kind, in two drills, on one of two hosts. */
export function madeSeries({
  seed,
  days = 24,
  rigs = 8,
  dayNoise = 0.008,
  noise = 0.008,
  change,
}: MadeBench): Series[] {
  const random = seeded(seed);
  const pick = (n: number) => Math.floor(random() * n);
  const chains = Array.from({ length: rigs }, () => {
    const port = pick(KINDS.port);
    return {
      host: ["desk", "lab"][port]!,
      parts: Object.entries(KINDS).map(
        ([kind, n]) => `${kind} ${kind === "port" ? port : pick(n)}`,
      ),
    };
  });
  const series = chains.flatMap(({ host, parts }, at) =>
    (["read", "write"] as const).map((direction): Series & { level: number } => ({
      key: `${at} ${direction}`,
      studyId: "study",
      rigId: `rig ${at}`,
      rigName: `Rig ${at}`,
      drill: "Haul",
      direction,
      parts,
      host,
      simulated: false,
      days: [],
      level: Math.log(200 + 900 * random()),
    })),
  );
  const measured = [...new Set(Array.from({ length: days }, () => pick(LASTS_DAYS)))].toSorted(
    (a, b) => a - b,
  );
  for (const day of measured) {
    // A warm day, another fill of the drive: all rates of a day share it.
    const ofDay = dayNoise * normal(random);
    for (const one of series) {
      if (random() < 0.4) continue;
      const since = change && one.parts.includes(change.of) ? day - change.atDay : -1;
      const changed = change?.shape === "step" ? Number(since >= 0) : Math.max(0, day) / LASTS_DAYS;
      const effect =
        change && one.parts.includes(change.of) ? Math.log1p(change.share) * changed : 0;
      const mbps = Math.exp(one.level + ofDay + noise * normal(random) + effect);
      one.days.push({ day: madeDay(day), mbps, runs: 3, states: {} });
    }
  }
  return series.filter((one) => one.days.length > 0);
}
