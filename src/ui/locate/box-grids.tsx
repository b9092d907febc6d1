import { Link } from "../controls/link";
import type { BoxGrid } from "@/core/locate/observations/boxes";
import type { Ask } from "@/core/study/asked-rig";
import { ratesIn } from "@/core/units/number";
import { DOING, type Direction, type RateUnit } from "@/core/units/rate";
import { CELL, FIGURE, HEAD, HEAD_RIGHT } from "../controls/table";
import { MakeStep } from "../plan/make-step";

/** Drives by bays of each box: what each gave, what that points at, and which move is next. */
export function BoxGrids({
  grids,
  drill,
  direction,
  studyId,
  simulated,
  then,
  unit,
}: {
  grids: readonly (BoxGrid & { moveParts: string[] | null })[];
  drill: string;
  direction: Direction;
  studyId: string;
  simulated: boolean;
  then: string;
  unit: RateUnit;
}) {
  const { rate } = ratesIn(unit);
  return grids.map(({ box, bays, drives, cells, points, move, moveParts }) => {
    const ask: Ask | null = move &&
      moveParts && {
        rig: { like: move.likeRigId, parts: moveParts, bay: move.bay },
        drill,
        direction,
      };
    return (
      <section key={box.id} className="border border-line bg-sheet px-4 py-3">
        <h2 className="font-semibold">
          {box.name}, drives by bays, {DOING[direction]}, {unit}
        </h2>
        <p className="my-1">{points}</p>
        <table className="w-full">
          <thead>
            <tr>
              <th className={HEAD}>drive</th>
              {bays.map((bay) => (
                <th key={bay} className={HEAD_RIGHT}>
                  bay {bay}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {drives.map((drive, d) => (
              <tr key={drive.id}>
                <td className={CELL}>{drive.name}</td>
                {bays.map((bay, b) => {
                  const cell = cells[d]![b];
                  return (
                    <td key={bay} className={FIGURE}>
                      {cell ? (
                        <>
                          {cell.low && (
                            <span className="mr-1">
                              <span aria-hidden>▽</span>
                              <span className="sr-only">slow: </span>
                            </span>
                          )}
                          <Link
                            className="underline decoration-line"
                            href={`/studies/${studyId}/measure?m=${cell.measurementId}`}
                          >
                            {cell.mbps === null ? cell.fails : rate(cell.mbps)}
                          </Link>
                        </>
                      ) : (
                        <span className="text-secondary">–</span>
                      )}
                    </td>
                  );
                })}
              </tr>
            ))}
          </tbody>
        </table>
        {move && (
          <div className="mt-2 flex flex-wrap items-center gap-3">
            <p className="min-w-0 grow basis-60">{move.text}</p>
            {ask && (
              <MakeStep
                studyId={studyId}
                ask={ask}
                simulated={simulated}
                then={then}
                look="plain"
              />
            )}
          </div>
        )}
      </section>
    );
  });
}
