"use client";

import { useState } from "react";
import { moneyWords, tellBuying } from "@/core/compare/buying";
import type { Question } from "@/core/compare/question";
import type { Moving } from "@/core/compare/practice";
import type { ShownComparison, ShownRow } from "@/core/compare/shown";
import { worstOf, type DemandCheck } from "@/core/demand/check";
import { formatAbout, formatMicroseconds, formatNumber, formatPercent } from "@/core/units/number";
import { Button, Field, Form, Input } from "../controls/form";
import { CELL, FIGURE, HEAD, HEAD_RIGHT } from "../controls/table";
import { useRates } from "../frame/unit";
import { LongRun } from "../demands/long-run";
import { OutMenu } from "../out/out-menu";

/** What an answer means in practice: time, demands and money, for every rig. */
export function PracticeTable({
  studyId,
  shown,
  question,
  ask,
}: {
  /** Null where rigs of several studies stand side by side. */
  studyId: string | null;
  shown: ShownComparison;
  question: Question;
  ask: (change: Partial<Question>) => void;
}) {
  const { unit, rate } = useRates();
  const [gb, setGb] = useState(String(question.gb));
  const [other, setOther] = useState(question.other === null ? "" : String(question.other));
  const { rows } = shown;
  const buying = tellBuying(rows);
  const priced = rows.some(({ cost }) => cost);
  const based = rows.some((row) => row.pathCost !== null);
  const names = [...new Set(rows.flatMap(({ demands }) => demands.map(({ name }) => name)))];
  const positive = (text: string) => (Number(text) > 0 ? Number(text) : null);
  const set = () => ask({ gb: positive(gb) ?? question.gb, other: positive(other) });
  return (
    <section className="mt-5">
      <div className="flex flex-wrap items-end gap-4">
        <h2 className="mr-auto font-serif text-xl">What it means in practice</h2>
        <Form className="flex flex-wrap items-end gap-3" onSend={set}>
          <Field label="Amount to move, GB" className="w-36">
            <Input
              name="gb"
              className="figure text-right"
              value={gb}
              onChange={(event) => setGb(event.target.value)}
              onBlur={set}
            />
          </Field>
          <Field label="Rate of the other side, MB/s" className="w-44">
            <Input
              name="other"
              className="figure text-right"
              placeholder="faster than any"
              value={other}
              onChange={(event) => setOther(event.target.value)}
              onBlur={set}
            />
          </Field>
          <Button type="submit">Calculate</Button>
        </Form>
        <OutMenu
          caption={{ title: "What it means in practice", note: "" }}
          rows={() => practiceRows(shown, question)}
        />
      </div>
      {buying && <p className="font-serif text-[19px]">{buying}</p>}
      <div className="overflow-x-auto">
        <table className="mt-1 w-full">
          <thead>
            <tr>
              <th className={HEAD}>rig</th>
              <th className={HEAD_RIGHT}>writing {formatNumber(question.gb)} GB</th>
              <th className={HEAD_RIGHT}>reading {formatNumber(question.gb)} GB</th>
              {based && <th className={HEAD_RIGHT}>added to each request</th>}
              {names.map((name) => (
                <th key={name} className={HEAD}>
                  {name}
                </th>
              ))}
              {priced && (
                <>
                  <th className={HEAD_RIGHT}>costs</th>
                  <th className={HEAD_RIGHT}>for each TB</th>
                  <th className={HEAD_RIGHT}>for each 100 MB/s</th>
                </>
              )}
            </tr>
          </thead>
          <tbody>
            {rows.map((row) => (
              <tr key={row.rigId}>
                <th
                  className={`${CELL} max-w-72 min-w-36 text-left font-medium [overflow-wrap:anywhere]`}
                >
                  <span className="font-serif italic">{row.letter}</span>&ensp;{row.name}
                </th>
                <td className={FIGURE}>{movingWords(row.moving.write)}</td>
                <td className={FIGURE}>{movingWords(row.moving.read)}</td>
                {based && (
                  <td className={FIGURE}>
                    {row.pathCost === null
                      ? "—"
                      : `${row.pathCost < 0 ? "−" : "+"}${formatMicroseconds(Math.abs(row.pathCost) * 1e6)}`}
                  </td>
                )}
                {names.map((name) => (
                  <td key={name} className={CELL}>
                    <DemandCell row={row} name={name} studyId={studyId} />
                  </td>
                ))}
                {priced && (
                  <>
                    <td className={FIGURE}>{money(row.cost?.amount, row.cost?.currency)}</td>
                    <td className={FIGURE}>{money(row.perTB, row.cost?.currency)}</td>
                    <td className={FIGURE}>{money(row.per100, row.cost?.currency)}</td>
                  </>
                )}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <p className="mt-1 text-[13px] text-secondary">
        Times follow from a Long fill where there is one, with its cache’s edge; “at least” rests on
        a short run alone. Prices are of everything but the computer’s own port.
      </p>
      {shown.upgrades.length > 0 && (
        <>
          <h3 className="mt-3 font-semibold">What one exchanged part gained, as measured</h3>
          <ul className="list-disc pl-5">
            {shown.upgrades.map(({ from, to, what, gain, share, extra }) => (
              <li key={`${from}${to}`}>
                <span className="font-serif italic">
                  {from} → {to}
                </span>
                , {what}: <b className="figure">+{rate(gain)}</b> {unit} ({formatPercent(share)}{" "}
                more)
                {extra && `, ${extraWords(extra, gain)}`}
              </li>
            ))}
          </ul>
        </>
      )}
    </section>
  );
}

const money = (amount: number | null | undefined, currency: string | undefined) =>
  amount === null || amount === undefined ? "—" : moneyWords(amount, currency ?? "");

function extraWords({ amount, currency }: { amount: number; currency: string }, gain: number) {
  if (amount <= 0) return amount === 0 ? "for nothing" : `for ${money(-amount, currency)} less`;
  const each = money(amount / (gain / 100), currency);
  return `for ${money(amount, currency)}: ${each} for each 100 MB/s`;
}

function movingWords(moving: Moving | null): string {
  if (!moving) return "—";
  const least = moving.sustained || moving.byOther ? "" : "at least ";
  return `${least}${formatAbout(moving.seconds)}${moving.byOther ? ", by the other side" : ""}`;
}

const checkOf = ({ demands }: ShownRow, name: string) =>
  worstOf(demands.find((demand) => demand.name === name)?.checks ?? []);

function DemandCell({
  row,
  name,
  studyId,
}: {
  row: ShownRow;
  name: string;
  studyId: string | null;
}) {
  const worst = checkOf(row, name);
  if (worst?.fit === "open" && studyId)
    return (
      <>
        open
        <LongRun studyId={studyId} rigId={row.rigId} direction={worst.direction} />
      </>
    );
  return demandWords(worst);
}

function demandWords(worst: DemandCheck | null): string {
  if (!worst) return "—";
  if (worst.fit === "open") return "open: a long run would tell";
  const more = worst.headroom >= 0 ? "to spare" : "short";
  return `${worst.fit}, ${formatPercent(Math.abs(worst.headroom))} ${more}`;
}

function practiceRows({ rows }: ShownComparison, { gb }: Question) {
  return [
    [
      "rig",
      "name",
      `writing ${gb} GB, s`,
      `reading ${gb} GB, s`,
      "added to each request, µs",
      "costs",
      "currency",
      "for each TB",
      "for each 100 MB/s",
    ],
    ...rows.map((row) => [
      row.letter,
      row.name,
      row.moving.write?.seconds ?? null,
      row.moving.read?.seconds ?? null,
      row.pathCost === null ? null : row.pathCost * 1e6,
      row.cost?.amount ?? null,
      row.cost?.currency ?? null,
      row.perTB,
      row.per100,
    ]),
  ];
}
