import type { Part } from "../../chain/part";
import { replacePart, type Rig } from "../../chain/rig";
import { locate, type Observation } from "../../locate/locate";
import type { MadeBench } from "../../locate/testing/made-bench";
import { seeded } from "../../simulate/noise";
import type { Observation as Whole } from "../../study/measurement";
import { briefResultOf } from "../../testing/measured";
import { UNSAID } from "../../run/stated";
import { judgeAll } from "../judged";
import type { VerdictKind } from "../verdict";

/** How a claim was judged on a made bench after each run, and whether that was right. */
export interface JudgedBench {
  seed: number;
  /** Whether the enclosure can carry what it claims. */
  keeps: boolean;
  verdicts: { kind: VerdictKind; told: boolean }[];
}

const TOLERANCE = 0.05;
const MOST_RUNS = 10;

/**
 * Follows the next swap on a bench whose enclosure claims something that it keeps or does not, and judges
 * that after each run. What the enclosure really carries comes from the bench, not from the program.
 */
export function judgeAlong(bench: MadeBench): JudgedBench | null {
  const random = seeded(bench.seed * 31 + 7);
  const box = bench.slow.parts.find(({ kind }) => kind === "enclosure" || kind === "network-box");
  if (!box) return null;
  const able = bench.carries(box);
  // Clearly kept, or clearly broken: what lies within the noise of the bench cannot be told by anybody.
  const keeps = random() < 0.5;
  const claim = keeps ? able * (0.55 + 0.35 * random()) : able * (1.25 + 1.2 * random());
  const most = bench.most(bench.slow);
  if (!Number.isFinite(claim) || claim > most * 0.9 || claim < most * 0.08) return null;
  const claiming: Part = {
    ...box,
    claims: [{ kind: "peak", direction: "read", mbps: claim }],
  };
  const withClaim = (rig: Rig) => replacePart(rig, box, claiming);
  const shelf = bench.shelf.map((part) => (part.id === box.id ? claiming : part));
  const seen: Observation[] = [bench.measure(withClaim(bench.slow))];
  const verdicts: JudgedBench["verdicts"] = [];
  for (let run = 0; ; run++) {
    const observations = seen.map(wholeOf);
    const [judged] = judgeAll([claiming], {
      rigs: seen.map(({ rig }) => rig),
      observations,
      shelf,
      tolerance: TOLERANCE,
    });
    const slow = locate(seen, shelf, { of: (one) => one === seen[0] })[0]!;
    const passed = seen.some(
      ({ rig, repeats }) =>
        rig.parts.some(({ id }) => id === box.id) && (repeats.interval?.low ?? 0) >= claim,
    );
    const found =
      slow.settled &&
      slow.explanations[0]?.place === JSON.stringify({ part: box.id }) &&
      slow.explanations[0].group === null &&
      slow.observedMBps < claim * 0.85;
    verdicts.push({ kind: judged!.kind, told: keeps ? passed : found });
    const next = slow.nextSwaps.find(({ kind }) => kind !== "drill");
    if (!next || slow.settled || run >= MOST_RUNS) return { seed: bench.seed, keeps, verdicts };
    seen.push(bench.measure({ ...next.rig, id: `swap-${run}` }, next.kind === "temperature"));
  }
}

/** What was seen, with all that a study knows of it. */
const wholeOf = (seen: Observation): Whole => ({
  ...seen,
  origin: "measured",
  results: seen.results ?? seen.repeats.values.map((rate) => briefResultOf(rate)),
  hostBusy: seen.repeats.values.map(() => false),
  errors: seen.errors ?? [],
  cautions: [],
  circumstances: { conditions: null, stated: UNSAID },
});

/** Whether a verdict is wrong: one that says what is not so. Can't tell yet is never wrong. */
export const isFalse = ({ keeps }: JudgedBench, kind: VerdictKind): boolean =>
  (kind === "Delivers" && !keeps) || (kind === "Falls short" && keeps);
