import { desc } from "drizzle-orm";
import type { NetworkFigures } from "@/core/network/figures";
import { networks } from "./schema";
import type { Store } from "./store";

/** What networks carried by themselves: of every pair of machines what was measured last, the latest first. */
export function listNetworks(store: Store): NetworkFigures[] {
  const seen = new Set<string>();
  return store
    .select()
    .from(networks)
    .orderBy(desc(networks.at))
    .all()
    .flatMap(({ from, to, figures }) => {
      const pair = JSON.stringify([from, to]);
      if (seen.has(pair)) return [];
      seen.add(pair);
      return [figures];
    });
}

/** Keeps what was measured; what is there already is not kept twice. */
export function putNetwork(store: Store, figures: NetworkFigures): void {
  const { from, to, at } = figures;
  store.insert(networks).values({ from, to, at, figures }).onConflictDoNothing().run();
}
