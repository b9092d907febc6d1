import type { Rig } from "@/core/chain/rig";
import { DRILLS } from "@/core/drills/catalogue";
import type { KnownCache } from "@/core/drills/parameter";
import type { Store } from "@/store/database";
import { latestEdge } from "@/store/runs";

/** Drills that write for long enough to run over a cache's edge. */
const SUSTAINED = DRILLS.filter(({ shows }) => shows.includes("sustained")).map(({ name }) => name);

/**
 * What is known of the write cache of a rig's drive: what the tester stated on the shelf, else where
 * the latest sustained write to it, through whichever rig, fell for the first time.
 */
export function cacheOf(store: Store, rig: Rig): KnownCache | null {
  const drive = rig.parts.at(-1);
  if (!drive) return null;
  if (drive.cacheBytes !== null) return { bytes: drive.cacheBytes, from: "stated" };
  const bytes = latestEdge(store, drive.id, SUSTAINED);
  return bytes === null ? null : { bytes, from: "found" };
}
