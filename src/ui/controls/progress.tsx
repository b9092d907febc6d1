"use client";

import { Progress as Primitive } from "radix-ui";

/** How far something has come. */
export function Progress({ label, value, most }: { label: string; value: number; most: number }) {
  const share = most > 0 ? Math.min(1, value / most) : 0;
  return (
    <Primitive.Root
      value={Math.round(share * 100)}
      aria-label={label}
      className="h-2 w-full overflow-hidden rounded-sm border border-line bg-bank"
    >
      <Primitive.Indicator className="h-full bg-flow" style={{ width: `${share * 100}%` }} />
    </Primitive.Root>
  );
}
