import { Fragment } from "react";
import { conditionRows, conditionsDiffer, type Circumstances } from "@/core/study/condition-rows";
import { Fold } from "../../controls/fold";
import { Sources } from "../../system/sources";

/** Under which conditions something was measured, and in what they differ from another run's. */
export function ConditionsList({
  of,
  before,
}: {
  of: Circumstances;
  /** The run before it, and what it is called. */
  before: (Circumstances & { name: string }) | null;
}) {
  const differs = before ? conditionsDiffer(of, before) : [];
  return (
    <div className="mt-2 text-sm">
      {before && (
        <p>
          {differs.length === 0 ? (
            <span className="text-secondary">
              Conditions as for the run before, {before.name}, as far as both are known.
            </span>
          ) : (
            <>
              ⚠ Other conditions than for the run before, {before.name}:{" "}
              {differs.map(({ what, a, b }, i) => (
                <Fragment key={what}>
                  {i > 0 && "; "}
                  {what} {a}, then {b}
                </Fragment>
              ))}
              .
            </>
          )}
        </p>
      )}
      <Fold
        summary={
          <span className="text-secondary">Conditions, as the system told them and you said</span>
        }
      >
        <dl className="mt-1 grid grid-cols-[9rem_minmax(0,1fr)] gap-x-3">
          {conditionRows(of).map(({ what, value, from }, i) => (
            <Fragment key={`${what}${i}`}>
              <dt className="text-secondary">{what}</dt>
              <dd className="[overflow-wrap:anywhere]">
                {value} {from && <Sources from={[from]} />}
              </dd>
            </Fragment>
          ))}
        </dl>
      </Fold>
    </div>
  );
}
