import type { Touch } from "@/core/run/touch";
import { formatClock } from "@/core/units/day";

/** That nothing is heard of the host that a run goes on on: since when, and that nothing is lost by it. */
export function OutOfTouch({ touch: { host, outSince, reason } }: { touch: Touch }) {
  if (outSince === null) return null;
  return (
    <p
      role="status"
      data-out-of-touch
      className="mt-2 border-l-[3px] border-ink bg-bank px-3 py-2 [overflow-wrap:anywhere]"
    >
      <span className="font-medium">
        {host} is out of touch since {formatClock(new Date(outSince).toISOString())}.
      </span>{" "}
      The run there goes on; its samples come once {host} answers again. {reason}
    </p>
  );
}
