"use client";

import { AXES, type Axis } from "@/core/compare/axes";
import type { Matrix, MatrixHead } from "@/core/compare/matrix";
import type { Question } from "@/core/compare/question";
import type { ShownComparison } from "@/core/compare/shown";
import { formatNumber, formatPercent, type RateWords } from "@/core/units/number";
import { DOING } from "@/core/units/rate";
import { Select } from "../controls/select";
import { CELL, FIGURE, HEAD, HEAD_RIGHT } from "../controls/table";
import { useRates } from "../frame/unit";
import { Absent } from "./cell-words";

const CHOICES = Object.entries(AXES).map(([value, text]) => ({ value: value as Axis, text }));

/** The rigs laid out by two of their parts, a table for each drill: what each part gains, and each column's ceiling. */
export function CompareMatrix({
  shown,
  ask,
  onOpen,
}: {
  shown: ShownComparison;
  ask: (change: Partial<Question>) => void;
  /** Told which rig's runs are to be looked into, and of which column. */
  onOpen: (rigId: string, column: number) => void;
}) {
  const { unit } = useRates();
  const [first] = shown.matrices;
  if (!first) return null;
  const { down, across } = first;
  const edge = (name: "down" | "across", value: Axis, other: Axis) => (
    <span className="inline-flex items-center gap-2">
      <span className="text-[13px] text-secondary">{name === "down" ? "Rows" : "Columns"}</span>
      <Select
        name={name}
        label={name === "down" ? "Rows" : "Columns"}
        value={value}
        options={CHOICES.filter((choice) => choice.value !== other)}
        onChange={(axis) => axis !== "" && ask({ down, across, [name]: axis })}
      />
    </span>
  );
  return (
    <>
      <p className="flex flex-wrap items-center gap-x-5 gap-y-2">
        {edge("down", down, across)}
        {edge("across", across, down)}
        <span className="text-[13px] text-secondary">
          Medians in {unit}, below each its share of the ceiling. A gain is against the slowest,
          over the rigs that stand beside each other.
        </span>
      </p>
      {shown.matrices.map((matrix, at) => (
        <MatrixTable
          key={at}
          matrix={matrix}
          column={shown.columns[at]!}
          onOpen={(rigId) => onOpen(rigId, at)}
        />
      ))}
    </>
  );
}

function MatrixTable({
  matrix: { heads, cells, down, across, counted },
  column,
  onOpen,
}: {
  matrix: Matrix;
  column: ShownComparison["columns"][number];
  onOpen: (rigId: string) => void;
}) {
  const rates = useRates();
  return (
    <div className="mt-3 overflow-x-auto">
      <table className="w-full" data-matrix>
        <caption className="text-left font-serif text-[19px]">
          {column.title}, {DOING[column.direction]}{" "}
          <span className="font-sans text-[13px] text-secondary">
            {column.what}
            {counted && "; requests a second"}
          </span>
        </caption>
        <thead>
          <tr>
            <th className={HEAD}>
              {AXES[down]} <span className="font-normal">by {AXES[across]}</span>
            </th>
            {heads.across.map(({ key, name }) => (
              <th key={key} className={`${HEAD_RIGHT} text-ink`}>
                {name}
              </th>
            ))}
            {heads.down.length > 1 && <th className={HEAD_RIGHT}>gain</th>}
          </tr>
        </thead>
        <tbody>
          {heads.down.map((head, i) => (
            <tr key={head.key}>
              <th
                className={`${CELL} max-w-72 text-left align-top font-medium [overflow-wrap:anywhere]`}
              >
                {head.name}
              </th>
              {cells[i]!.map((cell, j) => (
                <td key={heads.across[j]!.key} className={`${FIGURE} align-top`}>
                  {cell ? (
                    <button
                      type="button"
                      className="text-right hover:underline"
                      data-runs={`${cell.letter}, ${column.title}`}
                      onClick={() => onOpen(cell.rigId)}
                    >
                      <span className="sr-only">The runs of </span>
                      <span className="font-serif text-[13px] text-secondary italic">
                        {cell.letter}
                      </span>{" "}
                      <span className="font-semibold">
                        {counted ? formatNumber(cell.median) : rates.rate(cell.median)}
                      </span>
                      {cell.doubtful && " ⚠"}
                      <span className="block text-[12px] text-secondary">
                        {cell.efficiency === null ? "" : formatPercent(cell.efficiency)}
                        {cell.others.length > 0 && ` also ${cell.others.join(", ")}`}
                      </span>
                    </button>
                  ) : (
                    <Absent />
                  )}
                </td>
              ))}
              {heads.down.length > 1 && (
                <td className={`${FIGURE} align-top`}>{gainWords(head)}</td>
              )}
            </tr>
          ))}
        </tbody>
        <tfoot className="text-secondary">
          {heads.across.length > 1 && (
            <tr>
              <th className={`${CELL} text-left font-medium`}>gain</th>
              {heads.across.map((head) => (
                <td key={head.key} className={FIGURE}>
                  {gainWords(head)}
                </td>
              ))}
              {heads.down.length > 1 && <td className={CELL} />}
            </tr>
          )}
          {!counted && (
            <tr>
              <th className={`${CELL} text-left font-medium`}>ceiling</th>
              {heads.across.map((head) => (
                <td key={head.key} className={FIGURE}>
                  {ceilingWords(head, rates)}
                </td>
              ))}
              {heads.down.length > 1 && <td className={CELL} />}
            </tr>
          )}
        </tfoot>
      </table>
    </div>
  );
}

const gainWords = ({ gain, slowest }: MatrixHead) =>
  slowest ? (
    "slowest"
  ) : gain === null ? (
    <Absent />
  ) : (
    `${gain < 0 ? "−" : "+"}${formatPercent(Math.abs(gain))}`
  );

const ceilingWords = ({ ceiling }: MatrixHead, { rate }: Pick<RateWords, "rate">) => {
  if (!ceiling) return <Absent />;
  const { low, high } = ceiling;
  return rate(low) === rate(high) ? rate(low) : `${rate(low)} to ${rate(high)}`;
};
