import { tellCopies, type Copies } from "@/core/judge/copies";
import { formatPercent, ratesIn } from "@/core/units/number";
import type { RateUnit } from "@/core/units/rate";

/** What several copies of one model gave, and how far apart they lie. */
export function CopiesOfModels({ copies, unit }: { copies: readonly Copies[]; unit: RateUnit }) {
  if (copies.length === 0) return null;
  return (
    <section>
      <h2 className="mb-1 font-semibold">Copies of one model</h2>
      {copies.map((one) => (
        <p key={`${one.model}${JSON.stringify(one.claim)}`}>
          {tellCopies(one, ratesIn(unit))}{" "}
          {one.spread !== null && (
            <span className="text-[14px] text-secondary">
              From unit to unit: {formatPercent(one.spread)} apart (
              {one.parts
                .map(
                  ({ part, mbps }) =>
                    `${part.name} ${mbps === null ? "not measured" : ratesIn(unit).said(mbps)}`,
                )
                .join(", ")}
              ).
            </span>
          )}
        </p>
      ))}
    </section>
  );
}
