"use client";

import { useEffect, useState } from "react";
import type { SeenDrive } from "@/core/system/drive";

/** What is plugged in, as that changes; null until the system has answered. */
export function useDrives(): SeenDrive[] | null {
  const [drives, setDrives] = useState<SeenDrive[] | null>(null);
  useEffect(() => {
    const source = new EventSource("/api/drives/events");
    source.addEventListener("drives", (event) => {
      setDrives(
        (JSON.parse((event as MessageEvent<string>).data) as { drives: SeenDrive[] }).drives,
      );
    });
    return () => source.close();
  }, []);
  return drives;
}
