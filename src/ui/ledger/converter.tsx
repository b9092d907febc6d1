"use client";

import { useState } from "react";
import { formatNumber, formatRate, formatSeconds } from "@/core/units/number";
import { Field, Input } from "../controls/form";

/** The units that get mixed up: each field changes all the others. */
const RATES = [
  { name: "Gb/s", bytes: 1e9 / 8 },
  { name: "MB/s", bytes: 1e6 },
  { name: "MiB/s", bytes: 2 ** 20 },
];
const CAPACITIES = [
  { name: "TB", bytes: 1e12 },
  { name: "TiB", bytes: 2 ** 40 },
  { name: "GB", bytes: 1e9 },
];

/** Rates, capacities, and how long a copy takes. @param rate MB/s to begin with */
export function Converter({ rate }: { rate: number }) {
  const [bytesPerSecond, setRate] = useState(rate * 1e6);
  const [capacity, setCapacity] = useState(1e12);
  const seconds = bytesPerSecond > 0 ? capacity / bytesPerSecond : NaN;
  return (
    <section className="self-start border border-line bg-sheet p-4">
      <h2 className="mb-2 font-semibold">Convert</h2>
      <Units legend="Rate" units={RATES} bytes={bytesPerSecond} onChange={setRate} />
      <Units legend="Capacity" units={CAPACITIES} bytes={capacity} onChange={setCapacity} />
      <p className="mt-3 font-serif text-lg" role="status">
        {Number.isFinite(seconds)
          ? `${formatRate(capacity / 1e9)} GB take ${duration(seconds)} at ${formatRate(bytesPerSecond / 1e6)} MB/s.`
          : "Enter a rate above zero and a capacity."}
      </p>
    </section>
  );
}

function duration(seconds: number): string {
  const hours = Math.floor(seconds / 3600);
  if (hours < 1) return formatSeconds(seconds);
  return `${formatNumber(hours)} h ${Math.round((seconds % 3600) / 60)} min`;
}

function Units({
  legend,
  units,
  bytes,
  onChange,
}: {
  legend: string;
  units: { name: string; bytes: number }[];
  bytes: number;
  onChange: (bytes: number) => void;
}) {
  // What is being typed stays as typed; the other fields follow it.
  const [typing, setTyping] = useState<{ name: string; text: string } | null>(null);
  return (
    <fieldset className="mb-2">
      <legend className="text-[13px] text-secondary">{legend}</legend>
      <div className="grid grid-cols-3 gap-2">
        {units.map((unit) => (
          <Field key={unit.name} label={unit.name}>
            <Input
              inputMode="decimal"
              name={unit.name}
              className="figure"
              value={
                typing?.name === unit.name
                  ? typing.text
                  : Number.isFinite(bytes)
                    ? String(Number((bytes / unit.bytes).toPrecision(5)))
                    : ""
              }
              onBlur={() => setTyping(null)}
              onChange={({ target }) => {
                setTyping({ name: unit.name, text: target.value });
                const value = Number(target.value);
                onChange(target.value.trim() !== "" && value >= 0 ? value * unit.bytes : NaN);
              }}
            />
          </Field>
        ))}
      </div>
    </fieldset>
  );
}
