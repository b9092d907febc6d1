import { useQuery } from "@tanstack/react-query";
import { useMemo } from "react";
import type { Part, PartKind } from "@/core/chain/part";
import { GEAR_KINDS, likePart, OTHER_KINDS, type GearKind } from "@/core/gear/gear-kind";
import { send } from "../controls/send";

const NONE: readonly Part[] = [];

/**
 * Kinds of gear to choose from: everyday ones, and behind them the tester's own parts, to be repeated.
 *
 * @param sort of which sort of part alone; null for all
 */
export function useGearKinds(sort: PartKind | null = null): readonly GearKind[] {
  const { data: own = NONE } = useQuery({
    queryKey: ["gear kinds"],
    queryFn: async ({ signal }) => {
      const sent = await send<readonly Part[]>("GET", "/api/parts/kinds", undefined, { signal });
      // Without the tester's own parts the everyday kinds are there still.
      return sent.ok ? sent.data : NONE;
    },
  });
  return useMemo(() => {
    const all = [...GEAR_KINDS, ...own.map(likePart), ...OTHER_KINDS];
    return sort === null ? all : all.filter(({ kind }) => kind === sort);
  }, [own, sort]);
}
