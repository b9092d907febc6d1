import { kindOf } from "../../../drills/drill";
import { IN_MB } from "../../../units/number";
import type { Direction } from "../../../units/rate";
import { observedWith } from "../pooled";
import type { Observation } from "../observation";
import { causeKey, signature, type Sign, type Signature } from "./sign";

/** What costs time for each request, whatever its size, and not for each byte. */
const CHANCES: Record<string, number> = { fileSystem: 0.45, host: 0.35, transport: 0.4 };

/**
 * That large blocks, one at a time, go clearly faster than the rig did: then requests hold it back,
 * and not the bytes that any part or link lets through.
 */
export const FASTER_IN_LARGE_BLOCKS: Sign = {
  chance: (site, kind) => CHANCES[causeKey(site, kind)] ?? null,
  otherwise: 0.06,
};

/** Clearly faster than the rig was. */
export const CLEARLY = 1.25;

/** What a ladder by block says of a slow rig: the rate that its fit comes to with ever larger blocks. */
export function byRequest(
  slow: Observation,
  all: readonly Observation[],
  direction: Direction,
): Signature[] {
  const ladder = all.find(
    (one) =>
      kindOf(one.drill).picture === "by block" &&
      one.drill.direction === direction &&
      one !== slow &&
      observedWith(one.rig, slow.rig),
  );
  const fits = ladder?.results?.flatMap(({ fit }) => (fit?.by === "block" ? [fit] : [])) ?? [];
  if (!ladder || fits.length === 0) return [];
  const asymptote = Math.max(...fits.map(({ asymptoteMBps }) => asymptoteMBps));
  const faster = asymptote > slow.repeats.median * CLEARLY;
  const text = `${slow.rig.name || "The rig"} comes to ${IN_MB.said(asymptote)} with ever larger blocks${faster ? ": each request costs time there, not each byte" : ": no more than in this drill"}.`;
  return [
    signature(FASTER_IN_LARGE_BLOCKS, slow.rig, faster, {
      text,
      measurementIds: ladder.measurementIds,
    }),
  ];
}
