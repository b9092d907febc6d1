import { Link } from "../controls/link";
import type { Origin } from "@/core/study/measurement";
import { counted } from "@/core/units/counted";
import type { Direction, RateUnit } from "@/core/units/rate";

/** Of very many rigs: how many are shown, and the ways to see the others. */
export function RestOfRigs({
  shown,
  of,
  most,
  isDrawn,
  direction,
  unit,
  drill,
  origin,
  order,
}: {
  shown: number;
  of: number;
  /** So many are drawn as channels at most. */
  most: number;
  isDrawn: boolean;
  direction: Direction;
  unit: RateUnit;
  drill: string | null;
  origin: Origin | null;
  order: string;
}) {
  if (shown === of && isDrawn && of <= most) return null;
  const query = new URLSearchParams({
    direction,
    unit,
    order,
    ...(drill ? { drill } : {}),
    ...(origin ? { origin } : {}),
    ...(isDrawn ? {} : { rigs: "all" }),
  });
  return (
    <p className="mt-1 text-[14px]">
      The first {shown} of {counted(of, "rig")} are shown.{" "}
      <Link className="underline" scroll={false} href={`?${query}`}>
        {isDrawn ? "Show more rigs as bars" : `Draw the first ${most} as channels`}
      </Link>
    </p>
  );
}
