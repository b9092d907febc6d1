"use client";

import { useState } from "react";
import { account, type LedgerAccount } from "@/core/ledger/account";
import { MODES, modeOf } from "@/core/ledger/catalogue";
import type { LinkMode } from "@/core/ledger/mode";
import { formatRate } from "@/core/units/number";
import type { Direction } from "@/core/units/rate";
import { Button, Select } from "../controls/form";
import { Converter } from "./converter";
import { FAMILY_NAMES } from "./families";
import { ModeChart } from "./mode-chart";
import { Waterfall } from "./waterfall";

const MOST = 4;

/** Every standard link, step by step from signalling to payload; several side by side. */
export function LedgerView({ initial }: { initial: string[] }) {
  const [ids, setIds] = useState(initial);
  const [direction, setDirection] = useState<Direction>("read");
  const [assumptions, setAssumptions] = useState<Record<string, number>>({});

  const show = (next: string[]) => {
    setIds(next);
    window.history.replaceState(null, "", `?modes=${next.join(",")}`);
  };
  const modes = ids.map(modeOf);
  const ledgers = modes.map((mode) => accountWith(mode, direction, assumptions));
  const widest = Math.max(...ledgers.flatMap(({ rows }) => rows.map(({ mbps }) => mbps)));
  const free = assumptionsOf(modes);

  return (
    <>
      <div className="mt-4 mb-3 flex flex-wrap items-end gap-3">
        <h1 className="mr-auto font-serif text-[28px]">Link ledger</h1>
        {Object.entries(free).map(([name, { label, unit, options, standard }]) => (
          <label key={name} className="text-sm">
            {label}
            <Select
              value={assumptions[name] ?? standard}
              onChange={(event) =>
                setAssumptions({ ...assumptions, [name]: Number(event.target.value) })
              }
            >
              {options.map((value) => (
                <option key={value} value={value}>
                  {value} {unit}
                </option>
              ))}
            </Select>
          </label>
        ))}
        <label className="text-sm">
          Direction
          <Select
            value={direction}
            onChange={(event) => setDirection(event.target.value as Direction)}
          >
            <option value="read">reading</option>
            <option value="write">writing</option>
          </Select>
        </label>
        {ids.length < MOST && (
          <Button onClick={() => show([...ids, ids.at(-1)!])}>Another beside it</Button>
        )}
      </div>
      <div
        className="grid gap-4"
        style={{ gridTemplateColumns: `repeat(${ids.length}, minmax(0, 1fr))` }}
      >
        {ledgers.map((ledger, i) => (
          <section key={i} className="border border-line bg-sheet p-4">
            <div className="mb-2 flex gap-2">
              <ModeSelect
                value={ids[i]!}
                onChange={(id) => show(ids.map((old, k) => (k === i ? id : old)))}
              />
              {ids.length > 1 && (
                <Button aria-label="Take this one away" onClick={() => show(ids.toSpliced(i, 1))}>
                  ✕
                </Button>
              )}
            </div>
            <Summary mode={modes[i]!} ledger={ledger} />
            <Waterfall ledger={ledger} widest={widest} />
          </section>
        ))}
      </div>
      <div className="mt-4 grid gap-4 xl:grid-cols-[minmax(0,1fr)_380px]">
        <ModeChart direction={direction} onPick={(id) => show([id])} />
        <Converter rate={ledgers[0]!.attainable.high} />
      </div>
    </>
  );
}

function ModeSelect({ value, onChange }: { value: string; onChange: (id: string) => void }) {
  const families = [...new Set(MODES.map(({ family }) => family))];
  return (
    <Select aria-label="Mode" value={value} onChange={(event) => onChange(event.target.value)}>
      {families.map((family) => (
        <optgroup key={family} label={FAMILY_NAMES[family]}>
          {MODES.filter((mode) => mode.family === family).map((mode) => (
            <option key={mode.id} value={mode.id}>
              {mode.name}
            </option>
          ))}
        </optgroup>
      ))}
    </Select>
  );
}

function Summary({ mode, ledger }: { mode: LinkMode; ledger: LedgerAccount }) {
  const { hardCeiling, attainable } = ledger;
  return (
    <div className="mb-3">
      <p className="font-serif text-lg leading-snug">
        Nothing honest exceeds <b className="font-semibold">{formatRate(hardCeiling)} MB/s</b>; good
        hardware attains {formatRate(attainable.low)} to {formatRate(attainable.high)}.
      </p>
      <p className="text-[13px] text-secondary">
        {mode.formal}
        {mode.year && ` · ${mode.year}`}
        {mode.duplex === "half" && " · one direction at a time"}
        {mode.shared && " · shared with what else is on it"}
      </p>
    </div>
  );
}

/** The assumptions of all modes shown, by name. */
function assumptionsOf(modes: readonly LinkMode[]): LinkMode["assumptions"] {
  return Object.assign({}, ...modes.map((mode) => mode.assumptions)) as LinkMode["assumptions"];
}

function accountWith(mode: LinkMode, direction: Direction, set: Record<string, number>) {
  const own = Object.entries(set).filter(([name]) => name in mode.assumptions);
  return account(mode, direction, { assumptions: Object.fromEntries(own) });
}
