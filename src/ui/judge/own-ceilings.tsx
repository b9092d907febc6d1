import type { OwnCeiling } from "@/core/judge/enclosures";
import { ratesIn } from "@/core/units/number";
import { DOING, type RateUnit } from "@/core/units/rate";

/** What enclosures let through by themselves, found from several drives in each. */
export function OwnCeilings({
  ceilings,
  unit,
}: {
  ceilings: readonly OwnCeiling[];
  unit: RateUnit;
}) {
  const { said, rate } = ratesIn(unit);
  return (
    <ul className="space-y-1">
      {ceilings.map(({ part, direction, fit: { ceiling, low, high }, points, unshown }) => (
        <li key={`${part.id}${direction}`}>
          <b className="font-semibold">{part.name}</b>, {DOING[direction]}:{" "}
          {ceiling === null ? (
            <>lets at least {said(low)} through; no drive was fast enough to show its ceiling</>
          ) : (
            <>
              {unshown.length === 0 ? "own ceiling" : "levels off at"}{" "}
              <span className="figure">{said(ceiling)}</span> (95 % interval {rate(low)} to{" "}
              {said(high ?? ceiling)})
              {unshown.length > 0 &&
                `; no run shows more through ${unshown.join(", ")}, so whose ceiling it is remains open`}
            </>
          )}{" "}
          <span className="text-[14px] text-secondary">
            from{" "}
            {points
              .map(
                ({ drive, native, observed }) =>
                  `${drive.name} (${rate(observed)} here, ${rate(native)} elsewhere)`,
              )
              .join(", ")}
          </span>
        </li>
      ))}
    </ul>
  );
}
