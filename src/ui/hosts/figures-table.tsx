import { CELL, FIGURE, HEAD, HEAD_RIGHT } from "../controls/table";

/** A small table of figures: what they are of stands first in each row. */
export function FiguresTable({
  head: [first, ...names],
  rows,
}: {
  head: readonly string[];
  rows: readonly (readonly string[])[];
}) {
  return (
    <table className="mt-1">
      <thead>
        <tr>
          <th className={HEAD}>{first}</th>
          {names.map((name) => (
            <th key={name} className={HEAD_RIGHT}>
              {name}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {rows.map(([what, ...figures]) => (
          <tr key={what}>
            <td className={CELL}>{what}</td>
            {figures.map((figure, i) => (
              <td key={i} className={FIGURE}>
                {figure}
              </td>
            ))}
          </tr>
        ))}
      </tbody>
    </table>
  );
}
