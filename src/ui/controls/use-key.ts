"use client";

import { useEffect, useEffectEvent } from "react";

/** Does something when a key is pressed alone, outside of any field, list or dialog. */
export function useKey(key: string, action: () => void): void {
  const act = useEffectEvent(action);
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (event.key !== key || event.ctrlKey || event.metaKey || event.altKey) return;
      const { target } = event;
      const typing = target instanceof HTMLElement && target.closest("input, select, textarea");
      if (typing || document.querySelector("[role=dialog]")) return;
      event.preventDefault();
      act();
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, [key]);
}
