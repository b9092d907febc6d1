"use client";

import Link from "next/link";
import { useState } from "react";
import { letterOf } from "@/core/answer/study";
import type { Rig } from "@/core/chain/rig";
import { drillNamed, findDrill } from "@/core/drills/catalogue";
import { settingsOf as settingsOfDrill, type OwnDrill } from "@/core/drills/drill";
import type { DrillDirection } from "@/core/drills/kind";
import { textOf } from "@/core/drills/parameter";
import { settle } from "@/core/drills/settle";
import { parseSize } from "@/core/units/size";
import { Checkbox } from "../controls/checkbox";
import { Consent } from "../controls/consent";
import { Fold } from "../controls/fold";
import { Button, Field, Form, Input, Trouble } from "../controls/form";
import { Select } from "../controls/select";
import { send } from "../controls/send";
import { DrillFields, settingsOf, type TypedSettings } from "./drill-fields";
import { DrillPicker } from "./drill-picker";
import { KeepDrill } from "./keep-drill";
import { useFacts } from "./use-facts";

/** What is typed into the form, as text. */
interface Typed {
  rigId: string;
  /** The name of a drill, or the id of one of the tester's own. */
  drill: string;
  direction: DrillDirection;
  target: string;
  /** Of a copy: its other end. Of a Convoy: the further drives, a line each. */
  other: string;
  more: string;
  repeats: string;
  reserve: string;
  settings: TypedSettings;
  buffered: boolean;
  besideOwnData: boolean;
}

const WAYS: Record<DrillDirection, string> = {
  read: "reading",
  write: "writing",
  mixed: "reading and writing",
};

const size = (text: string) => {
  try {
    return parseSize(text);
  } catch {
    return NaN;
  }
};

/** Asks for a measurement and starts it. A refusal says why, and nothing typed is lost. */
export function MeasureForm({
  rigs,
  rigId,
  direction,
  target,
  drill,
  own,
  onStarted,
  onKept,
}: {
  rigs: Rig[];
  rigId: string | null;
  direction: DrillDirection;
  /** Where the rig was measured last. */
  target: string;
  /** The name of the drill to begin with. */
  drill: string;
  own: readonly OwnDrill[];
  onStarted: (measurementId: string) => void;
  /** A drill of the tester's own was kept or taken off the list. */
  onKept: () => void;
}) {
  const [typed, setTyped] = useState<Typed>({
    rigId: rigId ?? rigs[0]?.id ?? "",
    drill,
    direction: drillNamed(drill).directions.includes(direction)
      ? direction
      : drillNamed(drill).directions[0]!,
    target,
    other: "",
    more: "",
    repeats: "",
    reserve: "",
    settings: {},
    buffered: false,
    besideOwnData: false,
  });
  const [errors, setErrors] = useState<Record<string, string>>({});
  const [trouble, setTrouble] = useState<{ message: string; code: string | null } | null>(null);
  const [busy, setBusy] = useState(false);
  const facts = useFacts(typed.target);
  const change = (part: Partial<Typed>) => setTyped((was) => ({ ...was, ...part }));
  const mine = own.find(({ id }) => id === typed.drill)?.drill;
  const kind = findDrill(mine?.name ?? typed.drill)!;
  const text = (name: "target" | "other" | "repeats" | "reserve") => ({
    name,
    value: typed[name],
    onChange: (event: { target: { value: string } }) => change({ [name]: event.target.value }),
    "aria-invalid": errors[name] ? true : undefined,
  });

  function choose(next: string) {
    const kept = own.find(({ id }) => id === next)?.drill;
    const chosen = drillNamed(kept?.name ?? next);
    setErrors({});
    setTrouble(null);
    change({
      drill: next,
      direction:
        kept?.direction ??
        (chosen.directions.includes(typed.direction) ? typed.direction : chosen.directions[0]!),
      repeats: kept ? String(kept.repeats) : "",
      settings: kept
        ? Object.fromEntries(
            Object.entries(settingsOfDrill(kept)).flatMap(([name, value]) => {
              const parameter = chosen.parameters[name];
              return parameter ? [[name, textOf(parameter, value)]] : [];
            }),
          )
        : {},
    });
  }

  async function start(override: Partial<Typed> = {}) {
    const asked = { ...typed, ...override };
    change(override);
    setBusy(true);
    setTrouble(null);
    setErrors({});
    const sent = await send<{ id: string }>("POST", `/api/rigs/${asked.rigId}/measurements`, {
      ...settingsOf(kind, asked.settings),
      drill: kind.name,
      ...(mine?.title ? { title: mine.title } : {}),
      target: asked.target,
      other: kind.source && asked.other.trim() !== "" ? asked.other : null,
      more:
        kind.targets === "several"
          ? asked.more
              .split("\n")
              .map((line) => line.trim())
              .filter(Boolean)
          : [],
      direction: asked.direction,
      ...(asked.repeats.trim() === "" ? {} : { repeats: Number(asked.repeats) }),
      // Text that is no size goes out as such, so that the route refuses it.
      reserve: asked.reserve.trim() === "" ? null : size(asked.reserve) || asked.reserve,
      io: asked.buffered ? "buffered" : "direct",
      besideOwnData: asked.besideOwnData,
    });
    setBusy(false);
    if (sent.ok) return onStarted(sent.data.id);
    setErrors(Object.fromEntries(sent.error.fields.map(({ path, message }) => [path, message])));
    setTrouble(sent.error);
  }

  return (
    <Form onSend={start} className="space-y-3 border border-line bg-sheet p-4">
      <div className="grid grid-cols-[1.2fr_2fr_1fr] gap-3">
        <Field label="Rig" error={errors.rigId}>
          <Select
            name="rig"
            value={typed.rigId}
            options={rigs.map(({ id, name }, i) => ({
              value: id,
              text: `${letterOf(i)} · ${name}`,
            }))}
            onChange={(next) => change({ rigId: next })}
          />
        </Field>
        <Field label="Drill" error={errors.drill}>
          <DrillPicker value={typed.drill} own={own} onChange={choose} />
        </Field>
        <Field label="Direction" error={errors.direction}>
          <Select
            name="direction"
            value={typed.direction}
            options={kind.directions.map((way) => ({ value: way, text: WAYS[way] }))}
            onChange={(next) => next && change({ direction: next })}
          />
        </Field>
      </div>
      <p>{kind.why}</p>
      <div
        className={`grid gap-3 ${kind.source || kind.targets === "several" ? "grid-cols-2" : ""}`}
      >
        <Field
          label={
            kind.source
              ? typed.direction === "write"
                ? "Copied to: directory on the drive"
                : "Read from: directory on the drive"
              : "Directory on the drive, or block device"
          }
          hint={
            kind.source
              ? "The copy lands in a folder of its own there, which is removed at the end."
              : "A nameless scratch file is made there and vanishes by itself. Devices are only read."
          }
          error={errors.target}
        >
          <Input placeholder="/media/you/drive" spellCheck={false} {...text("target")} />
        </Field>
        {kind.source && (
          <Field
            label={
              typed.direction === "write" ? "Copied from: the folder" : "Copied to, if anywhere"
            }
            hint={
              typed.direction === "write"
                ? "It is only read. Empty: files are made up and written."
                : "Empty: the folder is read, and nothing is written."
            }
            error={errors.other}
          >
            <Input placeholder="/home/you/pictures" spellCheck={false} {...text("other")} />
          </Field>
        )}
        {kind.targets === "several" && (
          <Field label="Further drives, a line each" error={errors.more}>
            <textarea
              name="more"
              rows={2}
              spellCheck={false}
              placeholder={"/media/you/second\n/media/you/third"}
              value={typed.more}
              onChange={(event) => change({ more: event.target.value })}
              className="w-full rounded-sm border border-line bg-paper px-2 py-1"
            />
          </Field>
        )}
      </div>
      <Fold
        open={Object.keys(errors).some((at) => at.split(".")[0]! in kind.parameters)}
        key={String(Object.keys(errors).length > 0)}
        summary={<span className="text-secondary">{inWords(kind, typed, facts)}</span>}
      >
        <DrillFields
          kind={kind}
          typed={typed.settings}
          facts={facts}
          errors={errors}
          onChange={(name, value) => change({ settings: { ...typed.settings, [name]: value } })}
        />
        <div className="mt-3 grid grid-cols-2 gap-x-4 gap-y-3 border-t border-line pt-3 lg:grid-cols-3">
          <Field label="Repeats" hint="how often it is done" error={errors.repeats}>
            <Input placeholder={String(kind.repeats)} {...text("repeats")} />
          </Field>
          <Field label="Reserve" hint="space left free on the drive" error={errors.reserve}>
            <Input placeholder="the larger of 2 % and 1 GiB" {...text("reserve")} />
          </Field>
          <KeepDrill
            own={own}
            chosen={typed.drill}
            drill={() => ({
              ...settingsOf(kind, typed.settings),
              name: kind.name,
              direction: typed.direction,
              ...(typed.repeats.trim() === "" ? {} : { repeats: Number(typed.repeats) }),
            })}
            onKept={onKept}
            onDropped={() => {
              choose(kind.name);
              onKept();
            }}
          />
        </div>
        <Checkbox
          className="mt-2"
          checked={typed.buffered}
          onChange={(buffered) => change({ buffered })}
        >
          Measure buffered, through the page cache (flagged on the run)
        </Checkbox>
      </Fold>
      {trouble && trouble.code !== "own-database" && (
        <div className="space-y-2">
          <Trouble>{trouble.message}</Trouble>
          {trouble.code === "no-direct-io" && (
            <Button disabled={busy} onClick={() => void start({ buffered: true })}>
              Measure buffered; flag the run
            </Button>
          )}
        </div>
      )}
      <Consent
        title="Measure Nerrit’s own drive?"
        act="Measure it all the same"
        open={trouble?.code === "own-database" && !busy}
        onAnswer={(yes) => {
          setTrouble(null);
          if (yes) void start({ besideOwnData: true });
        }}
      >
        {trouble?.message}
      </Consent>
      <div className="flex items-center justify-end gap-4">
        {rigs.length === 0 && (
          <span>
            There is no rig yet.{" "}
            <Link href="rigs" className="underline">
              Describe one
            </Link>{" "}
            first.
          </span>
        )}
        <Button main type="submit" disabled={busy || rigs.length === 0}>
          {busy ? "Asking the system ..." : "Measure"}
        </Button>
      </div>
    </Form>
  );
}

/** What will be done, in a line; where something makes no sense yet, that it does not. */
function inWords(
  kind: ReturnType<typeof drillNamed>,
  typed: Typed,
  facts: Parameters<typeof settle>[2],
): string {
  const times = typed.repeats.trim() || String(kind.repeats);
  try {
    const values = settle(kind, settingsOf(kind, typed.settings), facts);
    return `${kind.summary(values as never)}; ${times === "1" ? "once" : `${times} times`}`;
  } catch {
    return "Settings: something does not make sense yet";
  }
}
