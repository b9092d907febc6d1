"use client";

import { useRouter } from "next/navigation";
import { useEffect } from "react";
import { counted } from "@/core/units/counted";

/** Says that studies are still being read, and shows the page anew until they are. */
export function StillReading({ waiting }: { waiting: number }) {
  const router = useRouter();
  const isReading = waiting > 0;
  useEffect(() => {
    if (!isReading) return;
    const timer = setInterval(() => router.refresh(), 1000);
    return () => clearInterval(timer);
  }, [isReading, router]);
  if (!isReading) return null;
  return (
    <p className="mb-3 text-[13px] text-secondary" role="status">
      Nerrit still reads the runs of {counted(waiting, "study", "studies")}. Warnings about slower
      parts may follow.
    </p>
  );
}
