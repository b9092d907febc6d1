"use client";

import { ArrowDown, ArrowUp, Plus, X } from "lucide-react";
import { useState } from "react";
import { drillNamed, SINGLE } from "@/core/drills/catalogue";
import { asWay, type DrillDirection } from "@/core/drills/kind";
import type { RoundPart } from "@/core/drills/kinds/round";
import { textOf, type TargetFacts } from "@/core/drills/parameter";
import { usualSettings } from "@/core/drills/settle";
import { Fold } from "../../controls/fold";
import { Button, Field, Input } from "../../controls/form";
import { Select } from "../../controls/select";
import { ParameterFields } from "./parameter-fields";
import { settingsOf, type TypedSettings } from "./typed-settings";
import { WAYS } from "./ways";

/** A step as it is typed. */
interface Row {
  /** Stays the step's own when it is moved. */
  key: number;
  name: string;
  drill: string;
  direction: DrillDirection;
  settings: TypedSettings;
}

let rowsMade = 0;
const newKey = () => (rowsMade += 1);

const rowOf = ({ name, drill, direction, set }: RoundPart): Row => {
  const { parameters } = drillNamed(drill);
  const settings = Object.entries(set).flatMap(([of, value]) => {
    const parameter = parameters[of];
    return parameter && value !== null ? [[of, textOf(parameter, value)]] : [];
  });
  return { key: newKey(), name, drill, direction, settings: Object.fromEntries(settings) };
};

const partOf = ({ name, drill, direction, settings }: Row): RoundPart => ({
  name,
  drill,
  direction,
  set: settingsOf(drillNamed(drill), settings),
});

/** Steps as text; null where it says none, as while somebody else's text is being typed. */
function rowsFrom(text: string): Row[] | null {
  try {
    return (JSON.parse(text) as RoundPart[]).map(rowOf);
  } catch {
    return null;
  }
}

/**
 * Puts a Round together, a step a row.
 *
 * @param value its steps as text (parameter.ts), which a change hands on in the same form
 * @param errors by the place of the step
 */
export function RoundEditor({
  value,
  reason,
  facts,
  errors,
  onChange,
}: {
  value: string;
  /** Why they are usually what they are. */
  reason: string;
  facts: TargetFacts | null;
  errors: Record<string, string>;
  onChange: (text: string) => void;
}) {
  const [typed, setTyped] = useState({ value, rows: rowsFrom(value) ?? [] });
  // Another Round was chosen: what had been typed belongs to the one before.
  if (typed.value !== value) setTyped({ value, rows: rowsFrom(value) ?? typed.rows });
  const { rows } = typed;

  const change = (next: Row[]) => {
    const text = JSON.stringify(next.map(partOf));
    setTyped({ value: text, rows: next });
    onChange(text);
  };
  const edit = (at: number, part: Partial<Row>) =>
    change(rows.map((row, i) => (i === at ? { ...row, ...part } : row)));
  const move = (at: number, by: number) => {
    const next = rows.toSpliced(at, 1);
    next.splice(at + by, 0, rows[at]!);
    change(next);
  };

  return (
    <fieldset className="col-span-full" data-name="steps">
      <legend className="text-sm font-medium">Steps, in the order in which they are done</legend>
      <p className="pb-1 text-[13px] text-secondary">Usually {reason}.</p>
      <ol className="divide-y divide-line border-y border-line">
        {rows.map((row, at) => (
          <StepRow
            key={row.key}
            place={at + 1}
            row={row}
            facts={facts}
            error={errors[String(at)]}
            onEdit={(part) => edit(at, part)}
            onUp={at > 0 ? () => move(at, -1) : null}
            onDown={at < rows.length - 1 ? () => move(at, 1) : null}
            onRemove={rows.length > 1 ? () => change(rows.toSpliced(at, 1)) : null}
          />
        ))}
      </ol>
      <Button
        className="mt-2"
        onClick={() =>
          change([
            ...rows,
            {
              key: newKey(),
              name: `step ${rows.length + 1}`,
              drill: "haul",
              direction: "read",
              settings: {},
            },
          ])
        }
      >
        <Plus size={14} aria-hidden className="mr-1 inline" />
        Add a step
      </Button>
    </fieldset>
  );
}

function StepRow({
  place,
  row,
  facts,
  error,
  onEdit,
  onUp,
  onDown,
  onRemove,
}: {
  place: number;
  row: Row;
  facts: TargetFacts | null;
  error: string | undefined;
  onEdit: (part: Partial<Row>) => void;
  onUp: (() => void) | null;
  onDown: (() => void) | null;
  onRemove: (() => void) | null;
}) {
  const kind = drillNamed(row.drill);
  const chooseDrill = (drill: string) => {
    const direction = asWay(drillNamed(drill), row.direction);
    onEdit({ drill, direction, settings: {} });
  };
  return (
    <li className="py-2">
      <div className="grid grid-cols-[1.5rem_1.4fr_2fr_1fr_auto] items-end gap-x-3">
        <span className="pb-1 font-mono text-secondary">{place}</span>
        <Field label="What it stands for">
          <Input
            name={`step-${place}-name`}
            value={row.name}
            onChange={(event) => onEdit({ name: event.target.value })}
          />
        </Field>
        <Field label="Drill">
          <Select
            name={`step-${place}-drill`}
            value={row.drill}
            options={SINGLE.map(({ name, title, what }) => ({
              value: name,
              text: `${title}: ${what}`,
            }))}
            onChange={(next) => next && chooseDrill(next)}
          />
        </Field>
        <Field label="Direction">
          <Select
            name={`step-${place}-direction`}
            value={row.direction}
            options={kind.directions.map((way) => ({ value: way, text: WAYS[way] }))}
            onChange={(next) => next && onEdit({ direction: next })}
          />
        </Field>
        <span className="flex gap-1 pb-0.5">
          <Act label={`Move step ${place} up`} act={onUp}>
            <ArrowUp size={15} aria-hidden />
          </Act>
          <Act label={`Move step ${place} down`} act={onDown}>
            <ArrowDown size={15} aria-hidden />
          </Act>
          <Act label={`Remove step ${place}`} act={onRemove}>
            <X size={15} aria-hidden />
          </Act>
        </span>
      </div>
      {error && (
        <p role="alert" className="ml-9 text-sm font-semibold">
          ✕ {error}
        </p>
      )}
      <Fold
        className="mt-1 ml-9"
        open={error !== undefined}
        summary={<span className="text-sm text-secondary">{inWords(row, facts)}</span>}
      >
        <ParameterFields
          kind={kind}
          prefix={`step-${place}-`}
          typed={row.settings}
          facts={facts}
          errors={{}}
          onChange={(name, text) => onEdit({ settings: { ...row.settings, [name]: text } })}
        />
      </Fold>
    </li>
  );
}

/** What is set of a step, in a line. */
function inWords(row: Row, facts: TargetFacts | null): string {
  const kind = drillNamed(row.drill);
  try {
    const usual = usualSettings(kind, settingsOf(kind, row.settings), facts);
    const set = settingsOf(kind, row.settings);
    const values = Object.fromEntries(usual.map(({ name, value }) => [name, set[name] ?? value]));
    return kind.summary(values as never);
  } catch {
    return "Settings: something does not make sense yet";
  }
}

function Act({
  label,
  act,
  children,
}: {
  label: string;
  act: (() => void) | null;
  children: React.ReactNode;
}) {
  return (
    <button
      type="button"
      aria-label={label}
      title={label}
      disabled={!act}
      onClick={act ?? undefined}
      className="rounded-sm border border-line p-1 hover:border-secondary disabled:opacity-30"
    >
      {children}
    </button>
  );
}
