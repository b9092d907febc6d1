"use client";

import { useRouter } from "next/navigation";
import { useEffect, type ReactNode } from "react";

/** Often enough that nobody presses reload. */
const EVERY_MS = 1000;

/** Says what is still going on, and shows the page anew until it is over. */
export function RefreshWhile({ going, children }: { going: boolean; children: ReactNode }) {
  const router = useRouter();
  useEffect(() => {
    if (!going) return;
    const timer = setInterval(() => router.refresh(), EVERY_MS);
    return () => clearInterval(timer);
  }, [going, router]);
  if (!going) return null;
  return (
    <p className="my-2 text-[13px] text-secondary" role="status">
      {children}
    </p>
  );
}
