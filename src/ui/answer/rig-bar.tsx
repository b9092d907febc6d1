import type { RateUnit } from "@/core/units/rate";
import type { DrawnBar } from "./drawn";

/** One of very many rigs as a bar: what it gave of its ceiling. */
export function RigBar({ bar, unit, widest }: { bar: DrawnBar; unit: RateUnit; widest: number }) {
  const { letter, name, flow, ceiling, rate, share } = bar;
  const part = (mbps: number) => `${Math.min(100, (100 * mbps) / widest)}%`;
  return (
    <li
      className="col-span-3 grid grid-cols-[3rem_minmax(6rem,14rem)_minmax(0,1fr)_11rem] items-center gap-2 py-0.5"
      data-rig={letter}
    >
      <span className="font-serif italic">{letter}</span>
      <span className="truncate font-semibold">{name}</span>
      <span className="relative block h-3 bg-bank" aria-hidden>
        <span
          className="absolute inset-y-0 left-0 border-r border-ink"
          style={{ width: part(ceiling) }}
        />
        <span
          className="absolute inset-y-[2px] left-0 bg-flow"
          style={{ width: part(flow ?? 0) }}
        />
      </span>
      <span className="flex items-baseline justify-end gap-2 whitespace-nowrap">
        <span className="figure font-semibold">
          {flow === null ? "–" : rate}
          <span className="sr-only"> {unit}</span>
        </span>
        <span className="w-24 truncate text-[13px] text-secondary">{share}</span>
      </span>
    </li>
  );
}
