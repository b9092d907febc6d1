"use client";

import { useEffect, useState } from "react";

/** What a value was when it had not changed for a while: what is typed or turned quickly is asked for once. */
export function useSettled<T extends string | null>(value: T, ms: number): T {
  const [settled, setSettled] = useState(value);
  useEffect(() => {
    const timer = setTimeout(() => setSettled(value), ms);
    return () => clearTimeout(timer);
  }, [value, ms]);
  return settled;
}
