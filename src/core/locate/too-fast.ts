import { stagesOf } from "../chain/stages";
import type { Direction } from "../units/rate";
import { countedLess } from "../study/measurement";
import { designed } from "../chain/designed";
import { entropyOf } from "./posterior/entropy";
import { placeKey, type Cause } from "./posterior/explanation";
import type { NextSwap } from "./steps/next-swap";
import type { Observation } from "./observations/observation";
import type { At } from "./hypotheses/site";
import type { Trial } from "./likelihood/trial";

/** Where the kernel counted less on the device than was moved: the rest is known not to have come from there. */
const COUNTED = 0.99;
/** Of a rate above its ceiling: memory answers far more often than a link is declared too slow. */
const MEMORY = 0.85;
/** So far above what nothing honest exceeds, as a share, no noise of a sound bench carries a median. */
const SURELY = 0.1;

/** As sure as one more run makes anything. */
const SURE = 0.99;

const AT_MEMORY = { condition: "memory" } as const;

/** Whether what was seen of a rig is surely above what nothing honest exceeds in it. */
export function isAboveCeiling({ rig, repeats }: Observation, direction: Direction): boolean {
  const ceilings = stagesOf(designed(rig), direction).map(({ ceiling }) => ceiling);
  return ceilings.length > 0 && repeats.median > Math.min(...ceilings) * (1 + SURELY);
}

/** Of a rate that memory may have answered, and that the rig's links carry too: nothing tells which. */
const EVEN = 0.5;

/**
 * What a rate may come from that memory may have answered: what is above all that the rig's ledger
 * allows is memory's, or nobody's; what is not may be the rig's own just as well.
 *
 * @param observations what the trial was made of, among others
 */
export function causesOfDoubtful(trial: Trial, observations: readonly Observation[]): Cause[] {
  const { median, ledger } = trial;
  const cause = (kind: Cause["kind"], at: At, probability: number): Cause => ({
    kind,
    at,
    place: placeKey(at),
    site: null,
    probability,
  });
  const memory = memoryIn(trial, observations);
  const [narrow] = ledger.by.toSorted((a, b) => sum(b.density) - sum(a.density));
  const isDesigned = memory === EVEN && narrow && median >= ledger.least;
  return [
    cause("memory-answered", AT_MEMORY, memory),
    isDesigned ? cause("as-designed", narrow.at, 1 - memory) : cause("nothing", null, 1 - memory),
  ];
}

function memoryIn({ median, ledger, measurementIds }: Trial, observations: readonly Observation[]) {
  const own = observations.filter((one) => measurementIds.includes(one.measurementIds[0]!));
  if (own.some(({ results = [] }) => countedLess(results))) return COUNTED;
  return median > ledger.ceiling ? MEMORY : EVEN;
}

const sum = (density: Float64Array) => density.reduce((a, b) => a + b, 0);

/** What tells the two apart: the same again, so that memory cannot answer. */
export function pastMemory(trial: Trial, observations: readonly Observation[]): NextSwap {
  const { rig, drill, ledger, median } = trial;
  const [memory, other] = causesOfDoubtful(trial, observations);
  // Above the ceiling it is memory's where the links' own rate is left; below it, where any less is.
  const above = median > ledger.ceiling;
  const edge = above ? Math.min(ledger.ceiling, median) : median * (1 - SURELY);
  return {
    kind: "drill",
    base: rig,
    rig,
    drill,
    minutes: 0,
    text: "repeat the run past the page cache, with more data than memory holds",
    bits: entropyOf([memory!.probability, other!.probability]),
    outcomes: [
      {
        fromMBps: above ? ledger.least : 0,
        toMBps: edge,
        probability: memory!.probability,
        then: [{ place: memory!.place, probability: SURE }],
      },
      {
        fromMBps: edge,
        toMBps: Math.max(ledger.ceiling, median),
        probability: other!.probability,
        then: [{ place: other!.place, probability: SURE }],
      },
    ],
  };
}
