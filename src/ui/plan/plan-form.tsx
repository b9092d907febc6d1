"use client";

import { Plus } from "lucide-react";
import { useState } from "react";
import { letterOf } from "@/core/answer/lettered-rig";
import type { Rig } from "@/core/chain/rig";
import { drillNamed } from "@/core/drills/catalogue";
import { defineFrom } from "@/core/drills/drill";
import type { TargetFacts } from "@/core/drills/parameter";
import { LAYING_OUT, usualSeconds } from "@/core/plan/estimate";
import { ballastWritten, levelsFrom } from "@/core/plan/fill-levels";
import { wearOf, wearWords } from "@/core/plan/wear";
import { EVERYDAY_DRILLS } from "@/core/plan/everyday";
import type { UsualTest } from "@/core/plan/usual-tests";
import type { PlanOrder } from "@/core/plan/plan";
import type { SeenDrive } from "@/core/system/drive";
import { counted } from "@/core/units/counted";
import { formatAbout } from "@/core/units/number";
import { formatSize } from "@/core/units/size";
import { Checkbox } from "../controls/checkbox";
import { Button, Field, Form, Input, Trouble } from "../controls/form";
import { Select } from "../controls/select";
import { send } from "../controls/send";
import { settingsOf } from "../measure/form/typed-settings";
import { useFacts } from "../measure/form/use-facts";
import { TargetInput } from "../plugged/target-input";
import { PlannedDrill, type TypedDrill } from "./planned-drill";

const ORDERS: { value: PlanOrder; text: string }[] = [
  { value: "usual", text: "as usual: turns where no hands are needed, else few swaps" },
  { value: "alternate", text: "rigs take turns, whatever has to be swapped" },
  { value: "few swaps", text: "one rig after another" },
];

/** Text as a number; what is none goes out as such, so that the route refuses it. */
const number = (text: string): number | string => (text.trim() === "" ? "" : Number(text) || text);

/** Puts a plan together: rigs and where each is measured, drills, repeats, order, and rests. */
export function PlanForm({
  studyId,
  test,
  rigs,
  targets,
  drives,
  stated,
  onMade,
}: {
  studyId: string;
  /** The usual test that it is for: its drills, instead of the everyday ones. */
  test: UsualTest | null;
  rigs: readonly Rig[];
  /** Where each rig was measured last, by its id. */
  targets: Readonly<Record<string, string>>;
  drives: readonly SeenDrive[] | null;
  /** What the tester says of the bench. */
  stated: object;
  onMade: (planId: string) => void;
}) {
  const [places, setPlaces] = useState<Record<string, string>>(targets);
  const [left, setLeft] = useState<Record<string, boolean>>({});
  const [drills, setDrills] = useState<TypedDrill[]>(
    (test?.drills ?? EVERYDAY_DRILLS).map(({ name, direction, ...set }, key) => ({
      key,
      name,
      direction,
      settings: Object.fromEntries(Object.entries(set).map(([of, value]) => [of, String(value)])),
    })),
  );
  const [typed, setTyped] = useState({
    title: test ? `Test of ${test.name}` : "",
    repeats: "3",
    warmUps: "0",
    idle: "0",
    cool: "0",
    below: "",
    narrow: "",
    levels: (test?.fillLevels ?? []).map((level) => `${Math.round(level * 100)}`).join(", "),
    order: "usual" as PlanOrder,
  });
  const [trouble, setTrouble] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const chosen = rigs.filter(({ id }) => !left[id]);
  const [first] = chosen;
  const facts = useFacts(places[first?.id ?? ""] ?? "", first?.id ?? "", null);
  const bind = (name: Exclude<keyof typeof typed, "order">) => ({
    name: `plan-${name}`,
    value: typed[name],
    onChange: (event: { target: { value: string } }) =>
      setTyped((was) => ({ ...was, [name]: event.target.value })),
  });
  const editDrill = (key: number, part: Partial<TypedDrill>) =>
    setDrills((was) => was.map((one) => (one.key === key ? { ...one, ...part } : one)));

  async function make() {
    setBusy(true);
    const percent = typed.narrow.replace("%", "").trim();
    const sent = await send<{ id: string }>("POST", `/api/studies/${studyId}/plans`, {
      title: typed.title,
      rigs: chosen.map(({ id }) => ({ rigId: id, target: places[id] ?? "" })),
      drills: drills.map(({ name, direction, settings }) => ({
        ...settingsOf(drillNamed(name), settings),
        name,
        direction,
      })),
      stated,
      order: typed.order,
      repeats: number(typed.repeats),
      warmUps: Number(typed.warmUps) || 0,
      idleSeconds: Number(typed.idle) || 0,
      coolSeconds: Number(typed.cool) || 0,
      coolBelow: typed.below.trim() === "" ? null : number(typed.below),
      fillLevels: levelsFrom(typed.levels),
      narrowEnough: percent === "" ? null : (Number(percent) || NaN) / 100,
    });
    setBusy(false);
    if (sent.ok) return onMade(sent.data.id);
    setTrouble(sent.error.message);
  }

  return (
    <Form onSend={make} className="space-y-3 pt-2">
      <fieldset>
        <legend className="text-sm font-medium">Rigs, and where each is measured</legend>
        <ul className="space-y-1">
          {rigs.map(({ id, name }, i) => (
            <li
              key={id}
              className="grid grid-cols-[minmax(0,1fr)_minmax(0,1.4fr)] items-center gap-3"
            >
              <Checkbox
                checked={!left[id]}
                onChange={(on) => setLeft((was) => ({ ...was, [id]: !on }))}
              >
                <span className="font-serif italic">{letterOf(i)}</span>&ensp;{name}
              </Checkbox>
              <TargetInput
                name={`plan-target-${letterOf(i)}`}
                aria-label={`Where rig ${letterOf(i)} is measured`}
                placeholder="/media/you/drive"
                disabled={left[id]}
                drives={drives}
                value={places[id] ?? ""}
                onChange={(event) => setPlaces((was) => ({ ...was, [id]: event.target.value }))}
                onPick={(path) => setPlaces((was) => ({ ...was, [id]: path }))}
              />
            </li>
          ))}
        </ul>
      </fieldset>
      <fieldset>
        <legend className="text-sm font-medium">Drills</legend>
        <ul className="space-y-1">
          {drills.map((drill, i) => (
            <PlannedDrill
              key={drill.key}
              at={i + 1}
              drill={drill}
              facts={facts}
              onChange={(part) => editDrill(drill.key, part)}
              onLeave={
                drills.length > 1
                  ? () => setDrills((was) => was.filter(({ key }) => key !== drill.key))
                  : null
              }
            />
          ))}
        </ul>
        <Button
          className="mt-1"
          onClick={() =>
            setDrills((was) => [
              ...was,
              {
                key: Math.max(...was.map(({ key }) => key)) + 1,
                name: "long-fill",
                direction: "write",
                settings: {},
              },
            ])
          }
        >
          <Plus size={14} aria-hidden className="mr-1 inline" />
          Add a drill
        </Button>
      </fieldset>
      <div className="grid grid-cols-2 gap-3 lg:grid-cols-4">
        <Field label="Name of the plan" className="col-span-2">
          <Input {...bind("title")} />
        </Field>
        <Field label="Repeats">
          <Input {...bind("repeats")} />
        </Field>
        <Field label="Warm-up runs" hint="before each drill; they count for nothing">
          <Input {...bind("warmUps")} />
        </Field>
        <Field label="Order" className="col-span-2">
          <Select
            name="plan-order"
            value={typed.order}
            options={ORDERS}
            onChange={(next) => next && setTyped((was) => ({ ...was, order: next }))}
          />
        </Field>
        <Field label="Idle before the first" hint="seconds">
          <Input {...bind("idle")} />
        </Field>
        <Field label="Rest between runs" hint="seconds">
          <Input {...bind("cool")} />
        </Field>
        <Field
          label="Cool down below"
          hint="°C, where the drive tells; empty: it is not waited for"
        >
          <Input {...bind("below")} />
        </Field>
        <Field
          label="Stop when the 95 % interval is within"
          hint="95 % interval, ± % of the mean, after three; empty: all repeats are done"
        >
          <Input placeholder="2 %" {...bind("narrow")} />
        </Field>
        <Field
          label="Fill levels"
          hint="% of the drive, kept by ballast that the plan writes and removes; empty: as it is"
          className="col-span-2"
        >
          <Input placeholder="0, 25, 50, 75, 90" {...bind("levels")} />
        </Field>
      </div>
      {trouble && <Trouble>{trouble}</Trouble>}
      <div className="flex items-center justify-end gap-4">
        <span className="text-secondary" data-estimate>
          {estimateOf(chosen, drills, typed, facts)}
        </span>
        <Button main type="submit" disabled={busy || chosen.length === 0}>
          Begin the plan
        </Button>
      </div>
    </Form>
  );
}

/** How much it comes to, before anything is begun; nothing while something makes no sense. */
function estimateOf(
  rigs: readonly Rig[],
  drills: readonly TypedDrill[],
  typed: { repeats: string; warmUps: string; idle: string; cool: string; levels: string },
  facts: TargetFacts | null,
): string {
  const times = Number(typed.repeats) + Number(typed.warmUps);
  const levels = levelsFrom(typed.levels);
  const each = Math.max(1, levels.length);
  const runs = rigs.length * drills.length * times * each;
  if (!(runs > 0) || !Number.isInteger(runs)) return "";
  try {
    const defined = drills.map(({ name, direction, settings }) =>
      defineFrom({ ...settingsOf(drillNamed(name), settings), name, direction }, facts),
    );
    const once = defined.reduce((sum, drill) => sum + usualSeconds(drill), 0);
    const wear = wearWords(wearOf(rigs, defined, times * each));
    const ballast = facts?.space ? rigs.length * ballastWritten(levels, facts.space) : 0;
    const filled = ballast > 0 ? `; ${formatSize(ballast, 1000)} of ballast at most` : "";
    const rests = (Number(typed.idle) || 0) + (runs - 1) * (Number(typed.cool) || 0);
    const seconds = rigs.length * times * each * once + rests + ballast / LAYING_OUT;
    return `${counted(runs, "run")}, about ${formatAbout(seconds)}, hands apart${wear && `; ${wear}`}${filled}`;
  } catch {
    return "";
  }
}
