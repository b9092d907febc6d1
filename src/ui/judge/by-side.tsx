import type { OwnCeiling, SideBySide } from "@/core/judge/enclosures";
import type { RateUnit } from "@/core/units/rate";
import { AlongsideTable } from "./alongside-table";
import { OwnCeilings } from "./own-ceilings";

/** Enclosures held against each other, and what each lets through by itself. */
export function BySide({
  alongside,
  ceilings,
  studyId,
  letterOf,
  unit,
}: {
  alongside: readonly SideBySide[];
  ceilings: readonly OwnCeiling[];
  studyId: string;
  letterOf: (rigId: string) => string;
  unit: RateUnit;
}) {
  return (
    <>
      {alongside.length > 0 && (
        <section className="space-y-3">
          <h2 className="font-semibold">Enclosures side by side</h2>
          {alongside.map((side) => (
            <AlongsideTable
              key={side.drive.id}
              side={side}
              studyId={studyId}
              letterOf={letterOf}
              unit={unit}
            />
          ))}
        </section>
      )}
      {ceilings.length > 0 && (
        <section>
          <h2 className="mb-1 font-semibold">What enclosures let through by themselves</h2>
          <OwnCeilings ceilings={ceilings} unit={unit} />
        </section>
      )}
    </>
  );
}
