import { stagesOf } from "../chain/stage";
import type { Direction } from "../units/rate";
import { designed } from "./designed";
import { entropyOf } from "./entropy";
import { placeKey, type Cause } from "./explanation";
import type { NextSwap } from "./next-swap";
import type { Observation } from "./seen";
import type { Trial } from "./trial";

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

/** What a rate above what its rig's ledger allows may come from. */
export const causesOfTooFast = (): Cause[] => [
  {
    ...{ kind: "memory-answered", at: AT_MEMORY, site: null },
    ...{ place: placeKey(AT_MEMORY), probability: MEMORY },
  },
  { kind: "nothing", at: null, place: placeKey(null), site: null, probability: 1 - MEMORY },
];

/** What tells the two apart: the same again, so that memory cannot answer. */
export function pastMemory({ rig, drill, ledger, median }: Trial): NextSwap {
  const [memory, other] = [placeKey(AT_MEMORY), placeKey(null)];
  return {
    ...{ kind: "drill", base: rig, rig, drill, minutes: 0 },
    text: "measure it again past the page cache, and with more data than memory holds",
    bits: entropyOf([MEMORY, 1 - MEMORY]),
    outcomes: [
      {
        ...{ fromMBps: ledger.least, toMBps: Math.min(ledger.ceiling, median) },
        ...{ probability: MEMORY, then: [{ place: memory, probability: SURE }] },
      },
      {
        ...{ fromMBps: ledger.ceiling, toMBps: Math.max(ledger.ceiling, median) },
        ...{ probability: 1 - MEMORY, then: [{ place: other, probability: SURE }] },
      },
    ],
  };
}
