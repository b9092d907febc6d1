import { called } from "@/core/chain/wording";
import type { Drift } from "@/core/drift/drift";
import { driftWords, type DriftWords } from "@/core/drift/drift-words";
import { hostOfMember } from "@/core/drift/series";
import type { Store } from "@/store/database";
import { getParts, listParts, type ShelvedPart } from "@/store/parts";
import { toldOfParts } from "./told-of-parts";

/** A drift with its words. */
export interface ToldDrift {
  drift: Drift;
  words: DriftWords;
}

/** A part that became slower, with the parts that may be the cause, itself the first. */
export type SlowerPart = ToldDrift & { parts: string[] };

/** How a part's rates changed over time, in words; null where it stands in no measured rig. */
export function driftOfPart(
  store: Store,
  partId: string,
): { told: ToldDrift | null; waiting: number } {
  const { drifts, waiting } = toldOfParts(store);
  const drift = drifts.get(partId);
  return { told: drift ? told(store, drift) : null, waiting };
}

/**
 * What became slower on the shelf: each change once, the parts that may be its cause together.
 *
 * @param isShown which parts it is about
 */
export function slowerParts(
  store: Store,
  isShown: (part: ShelvedPart) => boolean,
): {
  changes: SlowerPart[];
  /** By the part's id: "12 % slower since 2026-03-03". */
  brief: Record<string, string>;
  waiting: number;
} {
  const { drifts, waiting } = toldOfParts(store);
  const found = [...drifts.values()].filter(({ state }) => state === "slower");
  const shown = new Set(
    found.length === 0 ? [] : listParts(store).flatMap((part) => (isShown(part) ? part.id : [])),
  );
  const slower = found.filter((drift) => shown.has(drift.of));
  const all = slower.map((drift) => ({
    ...told(store, drift),
    parts: [drift.of, ...drift.together.filter((one) => hostOfMember(one) === null)],
  }));
  const named = new Set<string>();
  const changes = all
    .toSorted((a, b) => a.drift.change!.share - b.drift.change!.share)
    .filter(({ parts }) => {
      const isNew = parts.some((part) => !named.has(part));
      for (const part of parts) named.add(part);
      return isNew;
    });
  return {
    changes,
    brief: Object.fromEntries(all.map(({ drift, words }) => [drift.of, words.brief])),
    waiting,
  };
}

function told(store: Store, drift: Drift): ToldDrift {
  const parts = getParts(store, [drift.of, ...drift.together, ...drift.explainedBy]);
  const words = driftWords(drift, (of) => {
    const part = parts.get(of);
    return part ? called(part) : `the machine ${hostOfMember(of) ?? of}`;
  });
  return { drift, words };
}
