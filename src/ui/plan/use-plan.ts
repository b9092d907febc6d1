"use client";

import { useEffect, useEffectEvent, useState } from "react";
import type { PlanState } from "@/core/plan/plan";
import type { PlanView } from "@/core/plan/view";

/** A plan as it stands, as that changes; null until the server has answered. */
export function usePlan(id: string, onState: (state: PlanState) => void): PlanView | null {
  const [view, setView] = useState<PlanView | null>(null);
  const tell = useEffectEvent(onState);
  useEffect(() => {
    const source = new EventSource(`/api/plans/${id}/events`);
    source.addEventListener("plan", (event) => {
      const next = JSON.parse((event as MessageEvent<string>).data) as PlanView;
      setView(next);
      tell(next.state);
    });
    return () => source.close();
  }, [id]);
  return view;
}
