import { ladderBy } from "../../drills/catalogue";
import { predict } from "../../chain/predict";
import { stagesOf } from "../../chain/stages";
import { kindOf, type Drill } from "../../drills/drill";
import { shapeOf, usualDrill } from "../../drills/shape";
import { DOING, type Direction } from "../../units/rate";
import type { Posterior } from "../posterior/posterior";
import { designed } from "../../chain/designed";
import { entropyOf } from "../posterior/entropy";
import type { Blame, NextSwap, Outcome } from "./next-swap";
import { observedWith } from "../observations/pooled";
import type { Observation } from "../observations/observation";
import { showsBy } from "../posterior/signature";
import { BOTH_WAYS } from "../observations/signs/both-ways";
import { CLEARLY, FASTER_IN_LARGE_BLOCKS } from "../observations/signs/by-request";
import { FALLS, LONGEST } from "../observations/signs/fall";
import { FLAT_BY_DEPTH, isStorage } from "../observations/signs/queueing";
import type { Sign } from "../observations/signs/sign";
import type { Trial } from "../likelihood/trial";
import type { Draw } from "../posterior/draw";

/** What a drill that shows a sign is chosen from. */
export interface Standpoint {
  posterior: Posterior;
  draws: readonly Draw[];
  blames: readonly Blame[];
  trial: Trial;
}

/** What tells less is not worth a run, bits. */
export const LEAST_BITS = 0.01;

type Range = Pick<Outcome, "fromMBps" | "toMBps">;

/** Another drill on the rig as it stands, for a sign that it shows or does not. */
interface Telling {
  sign: Sign;
  drill: Drill;
  text: string;
  /** Rates at which the sign shows, and at which it does not. */
  shows: Range;
  not: Range;
  /** Minutes of waiting beyond what any run takes; none where left out. */
  minutes?: number;
  /** Probability that it shows where the ledger foresees the rate. */
  asDesigned?: number;
}

/**
 * Other drills on the rig as it stands, without hands, that were not done yet and tell something: the
 * other direction, a ladder by depth, a ladder by block, a long fill.
 *
 * @param all that was seen, of every drill and direction
 */
export function tellingDrills(at: Standpoint, all: readonly Observation[]): NextSwap[] {
  const { trial, posterior } = at;
  return [otherDirection(trial, posterior.direction), byDepth(at), byBlock(at), longer(at)].flatMap(
    (telling) => {
      const isDone =
        telling !== null &&
        all.some(
          ({ rig, drill }) =>
            drill.name === telling.drill.name &&
            drill.direction === telling.drill.direction &&
            observedWith(rig, trial.rig),
        );
      const step = telling && !isDone ? expected(at, telling) : null;
      return step ? [step] : [];
    },
  );
}

function expected(
  { posterior, blames, draws, trial }: Standpoint,
  telling: Telling,
): NextSwap | null {
  const guilt = new Map<string, number>();
  draws.forEach(({ weight }, w) => {
    for (const { place, chance } of blames[w]!)
      guilt.set(place, (guilt.get(place) ?? 0) + weight * chance);
  });
  // By place: how likely the sign shows, and how likely it does not.
  const joint = new Map(
    [...guilt].map(([place, chance]): [string, [shows: number, not: number]] => {
      const shows = showsBy(telling.sign, posterior, place, trial, telling.asDesigned);
      return [place, [chance * shows, chance * (1 - shows)]];
    }),
  );
  const rows = [...joint.values()];
  const totals = [0, 1].map((i) => rows.reduce((sum, row) => sum + row[i]!, 0));
  const before = entropyOf(rows.map(([shows, not]) => shows + not));
  const after = [0, 1].reduce(
    (sum, i) => sum + totals[i]! * entropyOf(rows.map((row) => row[i]!)),
    0,
  );
  const bits = before - after / (totals[0]! + totals[1]! || 1);
  if (bits < LEAST_BITS) return null;
  const outcome = (range: Range, i: number): Outcome => ({
    ...range,
    probability: totals[i]!,
    then: [...joint]
      .map(([place, row]) => ({ place, probability: row[i]! / (totals[i]! || 1) }))
      .toSorted((a, b) => b.probability - a.probability)
      .slice(0, 4),
  });
  const { rig } = trial;
  return {
    kind: "drill",
    text: telling.text,
    base: rig,
    rig,
    bits,
    minutes: telling.minutes ?? 0,
    drill: telling.drill,
    outcomes: [outcome(telling.shows, 0), outcome(telling.not, 1)],
  };
}

/** Beside what was seen the same rate may come out so much lower or higher. */
const AROUND = 0.2;

function otherDirection({ rig, drill, median }: Trial, direction: Direction): Telling | null {
  const back: Direction = direction === "read" ? "write" : "read";
  const attained = stagesOf(designed(rig), back).map(({ attainable }) => attainable);
  if (!kindOf(drill).directions.includes(back) || attained.length === 0) return null;
  const low = Math.min(...attained.map((one) => one.low));
  const high = Math.min(...attained.map((one) => one.high));
  return {
    sign: BOTH_WAYS,
    asDesigned: 0,
    text: `measure it ${DOING[back]} too`,
    drill: { ...drill, direction: back },
    shows: {
      fromMBps: median * (1 - AROUND),
      toMBps: Math.min(low, median * (1 + AROUND)),
    },
    not: { fromMBps: low, toMBps: high },
  };
}

/** A prediction of small requests is right to a factor of about two. */
const VAGUE = 2;

/** Random small blocks, ever more in flight: whether that gains anything tells of the driver alone. */
function byDepth({ posterior: { direction }, trial: { rig, drill } }: Standpoint): Telling | null {
  const ladder = usualDrill(ladderBy("depth").name, direction);
  const shape = shapeOf(ladder);
  if (drill.name === ladder.name || !isStorage(rig) || !shape) return null;
  const one = predict(rig, direction, { ...shape, depth: 1 });
  if (!one) return null;
  const most = Math.min(one.rate, one.mbps * MOST_GAIN);
  return {
    sign: FLAT_BY_DEPTH,
    drill: ladder,
    text: "measure it by depth too",
    shows: { fromMBps: one.mbps / VAGUE, toMBps: one.mbps * VAGUE },
    not: { fromMBps: Math.min(one.mbps * VAGUE, most), toMBps: most },
  };
}

/** A full queue gains no more than there are requests in it; few drives take more than this at once. */
const MOST_GAIN = 64;

/** Ever larger blocks, one at a time: whether requests cost the time, or bytes. */
function byBlock({ posterior: { direction }, trial }: Standpoint): Telling | null {
  const { rig, drill, median, ledger } = trial;
  const ladder = usualDrill(ladderBy("block").name, direction);
  if (drill.name === ladder.name || shapeOf(drill) === null) return null;
  const clearly = median * CLEARLY;
  if (clearly >= ledger.most || rig.beside.length > 0) return null;
  return {
    sign: FASTER_IN_LARGE_BLOCKS,
    drill: ladder,
    text: "measure it by block too",
    shows: { fromMBps: clearly, toMBps: ledger.most },
    not: { fromMBps: median * (1 - AROUND), toMBps: clearly },
  };
}

/** Minutes that a long fill keeps a bench busy: a terabyte at a gigabyte a second. */
const FILLING = 17;

/** Writing until there is no room: whether the rate falls once the drive’s cache is full. */
function longer({ posterior: { direction }, trial }: Standpoint): Telling | null {
  const { drill, median, ledger } = trial;
  if (direction !== "write" || drill.name === LONGEST) return null;
  return {
    sign: FALLS.write,
    drill: usualDrill(LONGEST, "write"),
    minutes: FILLING,
    text: "fill the drive for long too",
    shows: { fromMBps: median * DEEPEST_FALL, toMBps: median * (1 - AROUND) },
    not: { fromMBps: median * (1 - AROUND), toMBps: Math.min(ledger.most, median * (1 + AROUND)) },
  };
}

/** Drives that fold their cache while it is written to seldom keep less than this of their rate. */
const DEEPEST_FALL = 0.1;
