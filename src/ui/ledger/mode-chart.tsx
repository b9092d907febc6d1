"use client";

import { useState } from "react";
import { account, TRANSPORT_NAMES } from "@/core/ledger/account";
import { modesHolding, type Match } from "@/core/ledger/match";
import { DOING, inUnit, type Direction } from "@/core/units/rate";
import { Input } from "../controls/form";
import { Toggle } from "../controls/toggle";
import { useRates } from "../frame/unit";
import { Saveable } from "../out/saveable";
import { useModes } from "./own-modes";

/** The axis runs over five decades, from 0.5 to 150 000 MB/s. */
const FROM = Math.log10(0.5);
const TO = Math.log10(150_000);
const DECADES = [-3, -2, -1, 0, 1, 2, 3, 4, 5];
const ORDERS = [
  { value: "rate", text: "by rate" },
  { value: "year", text: "by year" },
] as const;
const at = (mbps: number) => `${(100 * (Math.log10(mbps) - FROM)) / (TO - FROM)}%`;
const wide = (low: number, high: number) =>
  `${(100 * (Math.log10(high) - Math.log10(low))) / (TO - FROM)}%`;

/** All modes on one logarithmic axis; a measured rate can be marked to see what link it looks like. */
export function ModeChart({
  direction,
  onPick,
}: {
  direction: Direction;
  onPick: (id: string) => void;
}) {
  const { unit, rate, said } = useRates();
  const [measured, setMeasured] = useState("");
  const [order, setOrder] = useState<"rate" | "year">("rate");
  const modes = useModes();
  const typed = Number(measured) / inUnit(1, unit);
  const marked = measured.trim() !== "" && typed > 0 && Number.isFinite(typed) ? typed : null;
  const holding = marked ? modesHolding(marked, modes, direction) : [];
  const rows = modes
    .map((mode) => ({ mode, ledger: account(mode, direction) }))
    .toSorted((a, b) =>
      order === "rate"
        ? a.ledger.hardCeiling - b.ledger.hardCeiling
        : (a.mode.year ?? 0) - (b.mode.year ?? 0) || a.ledger.hardCeiling - b.ledger.hardCeiling,
    );

  return (
    <section className="border border-line bg-sheet p-4">
      <div className="mb-2 flex flex-wrap items-end gap-3">
        <h2 className="mr-auto font-semibold">What link does a rate look like?</h2>
        <label className="flex flex-col text-sm">
          Measured, {unit}
          <Input
            inputMode="decimal"
            name="measured"
            value={measured}
            onChange={(event) => setMeasured(event.target.value)}
            className="!w-28"
            placeholder="452"
          />
        </label>
        <Toggle label="Order" value={order} options={ORDERS} onChange={setOrder} />
      </div>
      {marked && (
        <p className="mb-2" role="status">
          {holding.length > 0 ? (
            <>
              {said(marked)} lies in what these attain, best fit first:{" "}
              <b>{holding.map(matchName).join(", ")}</b>.
            </>
          ) : (
            `${said(marked)} is in the attainable band of no link listed here.`
          )}
        </p>
      )}
      <Saveable
        caption={{
          title: `What links carry ${DOING[direction]}`,
          note: `Bar: what good hardware reaches. Line: hard ceiling, ${unit}, in the column at the right.`,
        }}
        rows={[
          [
            "mode",
            "year",
            ...["line rate", "hard ceiling", "attained from", "to"].map(
              (what) => `${what}, ${unit}`,
            ),
          ],
          ...rows.map(({ mode, ledger }) => [
            mode.name,
            mode.year ?? null,
            ...[
              ledger.lineRate,
              ledger.hardCeiling,
              ledger.attainable.low,
              ledger.attainable.high,
            ].map((mbps) => Number(inUnit(mbps, unit).toPrecision(6))),
          ]),
        ]}
        foot={
          <p className="text-[13px] text-secondary">
            Bar: what good hardware reaches. Line: hard ceiling, {unit}, in the column at the right.
          </p>
        }
        className="relative"
      >
        <Axis />
        <ul className="relative">
          {rows.map(({ mode, ledger }) => {
            const fits = holding.some((match) => match.mode.id === mode.id);
            const { low, high } = ledger.attainable;
            return (
              <li key={mode.id} className="flex items-center gap-2 text-[13px] leading-[17px]">
                <button
                  type="button"
                  onClick={() => onPick(mode.id)}
                  className={`w-60 shrink-0 truncate text-left hover:underline ${fits ? "font-semibold" : ""}`}
                >
                  {fits && "▸ "}
                  {order === "year" && (
                    <span className="figure text-[12px] text-secondary">{mode.year ?? "—"} </span>
                  )}
                  {mode.name}
                </button>
                <span className="relative h-3 grow">
                  <span
                    className="absolute inset-y-[3px] bg-flow"
                    style={{ left: at(low), width: wide(low, high) }}
                  />
                  <span
                    className="absolute inset-y-0 w-px bg-ink"
                    style={{ left: at(ledger.hardCeiling) }}
                  />
                </span>
                <span className="figure w-16 shrink-0 text-right text-[12px]">
                  {rate(ledger.hardCeiling)}
                </span>
              </li>
            );
          })}
        </ul>
        {marked && (
          <div className="pointer-events-none absolute inset-y-0 right-[72px] left-[248px]">
            <div
              className="absolute inset-y-0 border-l-2 border-dashed border-ink"
              style={{ left: at(marked) }}
            />
          </div>
        )}
      </Saveable>
    </section>
  );
}

/** A mode, with its protocol where that is not the usual one. */
const matchName = ({ mode, transport }: Match) =>
  transport === mode.transports[0]!.id ? mode.name : `${mode.name} (${TRANSPORT_NAMES[transport]})`;

function Axis() {
  const { unit, rate } = useRates();
  return (
    <div className="figure relative ml-[248px] mr-[72px] h-4 text-[11px] text-secondary">
      {DECADES.map((power) => 10 ** power / inUnit(1, unit))
        .filter((mbps) => Math.log10(mbps) > FROM && Math.log10(mbps) < TO)
        .map((mbps) => (
          <span key={mbps} className="absolute -translate-x-1/2" style={{ left: at(mbps) }}>
            {rate(mbps).replace(/\.?0+$/, "")}
          </span>
        ))}
    </div>
  );
}
