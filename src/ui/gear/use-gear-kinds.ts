import { useEffect, useMemo, useState } from "react";
import type { Part, PartKind } from "@/core/chain/part";
import { GEAR_KINDS, likePart, OTHER_KINDS, type GearKind } from "@/core/gear/gear-kind";
import { send } from "../controls/send";

/**
 * Kinds of gear to choose from: everyday ones, and behind them the tester's own parts, to be repeated.
 *
 * @param sort of which sort of part alone; null for all
 */
export function useGearKinds(sort: PartKind | null = null): readonly GearKind[] {
  const [own, setOwn] = useState<readonly Part[]>([]);
  useEffect(() => {
    let gone = false;
    void send<Part[]>("GET", "/api/parts/kinds").then((sent) => {
      if (sent.ok && !gone) setOwn(sent.data);
    });
    return () => {
      gone = true;
    };
  }, []);
  return useMemo(() => {
    const all = [...GEAR_KINDS, ...own.map(likePart), ...OTHER_KINDS];
    return sort === null ? all : all.filter(({ kind }) => kind === sort);
  }, [own, sort]);
}
