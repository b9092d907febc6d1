import type { ReactNode } from "react";
import type { Touch } from "@/core/run/touch";
import { formatClock } from "@/core/units/day";

/** What a run does now or, where nothing is heard of its host, since when that is so: no old figure stands for now. */
export function InTouch({ touch, children }: { touch: Touch | null; children: ReactNode }) {
  if (!touch || touch.outSince === null) return children;
  const { host, outSince, reason } = touch;
  return (
    // As high as the figures that come back: nothing below moves from under a press.
    <div role="status" data-out-of-touch className="mt-2 min-h-48 [overflow-wrap:anywhere]">
      <p className="font-serif text-[28px]">
        {host} is out of touch since {formatClock(new Date(outSince).toISOString())}.
      </p>
      <p>
        The run there goes on. Its samples come once {host} answers again. Nerrit tries again by
        itself.
      </p>
      {reason && <p className="text-secondary">{reason}</p>}
    </div>
  );
}
