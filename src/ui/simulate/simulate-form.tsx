"use client";

import { letterOf } from "@/core/answer/lettered-rig";
import type { Rig } from "@/core/chain/rig";
import { drillNamed } from "@/core/drills/catalogue";
import type { DrillDirection } from "@/core/drills/kind";
import { FAULT_NAMES, type Fault } from "@/core/simulate/model";
import type { Listed } from "@/core/study/listed";
import { formatDayHere } from "@/core/units/day";
import { Checkbox } from "../controls/checkbox";
import { Fold } from "../controls/fold";
import { Button, Field, Form, Input } from "../controls/form";
import { Select } from "../controls/select";
import type { Refused } from "../controls/send";
import { DrillChoice } from "../elsewhere/drill-choice";
import { RecordingsField } from "../measure/form/recordings-field";
import { WAYS } from "../measure/form/ways";

/** What is typed of a simulated run. */
export interface Typed {
  rigId: string;
  drill: string;
  direction: DrillDirection;
  measurementId: string;
  /** What is done again, as text (core/drills/parameter.ts). */
  recordings: string;
  seed: string;
  ambient: string;
  filled: string;
  used: boolean;
  cacheGB: string;
  foldedMBps: string;
  /** Null: those that the study's file names. */
  faults: Fault[] | null;
}

/** Whether it does work again that is not chosen yet. */
export const lacksWork = ({ drill, recordings, measurementId }: Typed): boolean =>
  measurementId === "" && drillNamed(drill).recorded === true && recordings === "";

const numberOr = (text: string, none: null | undefined) =>
  text.trim() === "" ? none : Number(text);

/** What is sent of it; what makes no sense is for the server to say. */
export const bodyOf = (typed: Typed) => ({
  drill: typed.drill,
  direction: typed.direction,
  measurementId: typed.measurementId || null,
  ...(typed.recordings ? { recordings: JSON.parse(typed.recordings) as unknown } : {}),
  seed: Number(typed.seed),
  ambientCelsius: Number(typed.ambient),
  drive: {
    ...(typed.filled.trim() ? { filled: Number(typed.filled) / 100 } : {}),
    ...(typed.used ? { used: true } : {}),
  },
  cache: typed.cacheGB.trim()
    ? {
        bytes: Number(typed.cacheGB) * 1e9,
        foldedMBps: numberOr(typed.foldedMBps, undefined),
      }
    : null,
  faults: typed.faults,
});

/** Faults that need nothing said but where they are, each with the kinds of part it can be at. */
const SIMPLE: Partial<Record<Fault["kind"], "drive" | "link" | "any" | "none">> = {
  dropped: "link",
  "wrong-slot": "drive",
  flaky: "link",
  "no-heat-pad": "link",
  "cache-off": "drive",
  unqueued: "none",
};

/** Numbers that are asked for, with where the server names them and what stands for nothing said. */
const NUMBERS: {
  field: "ambient" | "seed" | "filled" | "cacheGB" | "foldedMBps";
  name: string;
  label: string;
  hint?: string;
  none?: string;
  paths: string[];
}[] = [
  { field: "ambient", name: "ambient", label: "Room, °C", paths: ["ambientCelsius"] },
  {
    field: "seed",
    name: "seed",
    label: "Seed",
    paths: ["seed"],
    hint: "the same gives the same",
  },
  { field: "filled", name: "filled", label: "Filled, %", none: "0", paths: ["drive"] },
  {
    field: "cacheGB",
    name: "cache",
    label: "Write cache, GB",
    none: "none",
    paths: ["cache.bytes"],
  },
  {
    field: "foldedMBps",
    name: "folded",
    label: "And after it, MB/s",
    none: "a quarter",
    paths: ["cache.foldedMBps"],
  },
];

export function SimulateForm({
  rigs,
  rig,
  measured,
  typed,
  busy,
  trouble,
  onChange,
  onRun,
}: {
  rigs: readonly Rig[];
  rig: Rig;
  measured: readonly Listed[];
  typed: Typed;
  busy: boolean;
  trouble: Refused | null;
  onChange: (typed: Typed) => void;
  onRun: () => void;
}) {
  const set = (next: Partial<Typed>) => onChange({ ...typed, ...next });
  const error = (path: string) =>
    trouble?.fields.find((field) => field.path.startsWith(path))?.message;
  const runs = measured.filter(({ rigId }) => rigId === typed.rigId);
  const drive = rig.parts.at(-1)!;
  // The box that the drive stands in, or what it hangs on.
  const box = rig.parts.slice(1, -1).findLast(({ kind }) => kind !== "cable") ?? drive;
  const placeOf = (kind: Fault["kind"]) => (SIMPLE[kind] === "drive" ? drive : box);
  const has = (kind: Fault["kind"]) => typed.faults?.some((fault) => fault.kind === kind) ?? false;
  const toggle = (kind: Fault["kind"], on: boolean) => {
    const others = (typed.faults ?? []).filter((fault) => fault.kind !== kind);
    const fault = SIMPLE[kind] === "none" ? { kind } : { kind, at: placeOf(kind).id };
    set({ faults: on ? [...others, fault as Fault] : others });
  };

  return (
    <Form onSend={onRun} className="space-y-3 self-start border border-line bg-sheet p-4">
      <Field label="Rig">
        <Select
          name="simulate-rig"
          value={typed.rigId}
          options={rigs.map((one, i) => ({ value: one.id, text: `${letterOf(i)} · ${one.name}` }))}
          onChange={(rigId) => rigId !== "" && set({ rigId, measurementId: "", faults: null })}
        />
      </Field>
      <Field
        label="Beside which run"
        hint="its own drill is simulated, with all that was set of it"
      >
        <Select
          name="simulate-against"
          value={typed.measurementId}
          options={[
            { value: "", text: "none: a drill by itself" },
            ...runs.map((one) => ({
              value: one.id,
              text: `${one.drill}, ${WAYS[one.direction]}, ${one.origin}, ${formatDayHere(one.createdAt)}`,
            })),
          ]}
          onChange={(measurementId) => set({ measurementId })}
        />
      </Field>
      {!typed.measurementId && (
        <DrillChoice
          of={{ rigId: typed.rigId, drill: typed.drill, direction: typed.direction }}
          rigs={null}
          recorded
          onChange={({ drill, direction }) => set({ drill, direction })}
        />
      )}
      {!typed.measurementId && drillNamed(typed.drill).recorded && (
        <RecordingsField
          text={typed.recordings}
          error={error("recordings")}
          onChange={(recordings) => set({ recordings })}
        />
      )}
      <div className="grid grid-cols-2 gap-3">
        {NUMBERS.map(({ field, name, paths, ...shown }) => (
          <Field
            key={name}
            label={shown.label}
            hint={shown.hint}
            error={paths.map(error).find(Boolean)}
          >
            <Input
              name={name}
              inputMode="decimal"
              value={typed[field]}
              placeholder={shown.none}
              onChange={(event) => set({ [field]: event.target.value })}
            />
          </Field>
        ))}
      </div>
      <Checkbox checked={typed.used} onChange={(used) => set({ used })}>
        {drive.name} has been written over before
      </Checkbox>
      <Fold summary="With a fault" open={(typed.faults?.length ?? 0) > 0}>
        <div className="mt-1 space-y-1">
          {(Object.keys(SIMPLE) as Fault["kind"][]).map((kind) => (
            <Checkbox key={kind} checked={has(kind)} onChange={(on) => toggle(kind, on)}>
              {FAULT_NAMES[kind]}
              {SIMPLE[kind] !== "none" && (
                <span className="text-secondary"> at {placeOf(kind).name}</span>
              )}
            </Checkbox>
          ))}
        </div>
      </Fold>
      <Button main type="submit" disabled={busy}>
        {busy ? "Simulating …" : "Simulate it"}
      </Button>
    </Form>
  );
}
