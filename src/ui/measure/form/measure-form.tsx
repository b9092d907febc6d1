"use client";

import { Link } from "../../controls/link";
import { useState } from "react";
import { letterOf } from "@/core/answer/lettered-rig";
import type { Rig } from "@/core/chain/rig";
import { drillNamed, findDrill } from "@/core/drills/catalogue";
import { settingsOf as settingsOfDrill, type OwnDrill } from "@/core/drills/drill";
import { asWay, type DrillDirection, type DrillKind } from "@/core/drills/kind";
import { textOf } from "@/core/drills/parameter";
import { Checkbox } from "../../controls/checkbox";
import { Consent } from "../../controls/consent";
import { Fold } from "../../controls/fold";
import { Button, Field, Form, Input, Trouble } from "../../controls/form";
import { Select } from "../../controls/select";
import { send } from "../../controls/send";
import { DrillFields } from "./drill-fields";
import { DrillPicker } from "./drill-picker";
import { placeFrom } from "@/core/units/place";
import { pathsOf, type SeenDrive } from "@/core/system/drive";
import { rigsOf } from "@/core/system/plugged-rig";
import type { Fix } from "@/core/preflight/preflight";
import { Preflight } from "./preflight";
import { BallastField } from "../../ballast/ballast-field";
import { EverydayPlan } from "../../plan/everyday-plan";
import { RecordingsField } from "./recordings-field";
import { KeepDrill } from "./keep-drill";
import { useHosts } from "../../hosts/use-hosts";
import { useFacts } from "./use-facts";
import { settingsOf } from "./typed-settings";
import { StatedFields, statedOf, type TypedStated } from "./stated-fields";
import { blank, inWords, requestOf, reserveOf, type Typed } from "./typed-request";
import { WAYS } from "./ways";
import { WhereFields } from "./where-fields";

/** Asks for a measurement and starts it. A refusal says why, and nothing typed is lost. */
export function MeasureForm({
  studyId,
  rigs,
  rigId,
  direction,
  target,
  targets,
  drill,
  own,
  drives,
  stated,
  onStated,
  onStarted,
  onPlanned,
  onRigAsSeen,
  onKept,
}: {
  studyId: string;
  rigs: Rig[];
  rigId: string | null;
  direction: DrillDirection;
  /** Where the rig was measured last. */
  target: string;
  /** Where each rig was measured last, by its id. */
  targets: Readonly<Record<string, string>>;
  /** The name of the drill to begin with. */
  drill: string;
  own: readonly OwnDrill[];
  drives: readonly SeenDrive[] | null;
  /** What the tester says of the bench. */
  stated: TypedStated;
  onStated: (stated: TypedStated) => void;
  onStarted: (measurementId: string) => void;
  /** A rig shall be taken as the system says that it is at a path. */
  onRigAsSeen: (rigId: string, path: string) => void;
  /** The everyday plan was begun. */
  onPlanned: () => void;
  /** A drill of the tester's own was kept or taken off the list. */
  onKept: () => void;
}) {
  const [typed, setTyped] = useState<Typed>({
    ...blank(drill, direction),
    rigId: rigId ?? rigs[0]?.id ?? "",
    target,
  });
  const [errors, setErrors] = useState<Record<string, string>>({});
  const [trouble, setTrouble] = useState<{ message: string; code: string | null } | null>(null);
  const [busy, setBusy] = useState(false);
  const { hosts } = useHosts();
  const names = hosts.map(({ name }) => name);
  const facts = useFacts(typed.target, typed.rigId, reserveOf(typed.reserve));
  const change = (part: Partial<Typed>) => setTyped((was) => ({ ...was, ...part }));
  /** Where it is measured says which rig that is, where the system knows the drive. */
  const placed = (part: Partial<Typed>) => {
    const drive = (drives ?? []).find((one) => pathsOf(one).includes(part.target ?? ""));
    const [found, other] = drive ? rigsOf(drive, rigs, names) : [];
    change(found && !other ? { ...part, rigId: found.rig.id } : part);
  };
  const mine = own.find(({ id }) => id === typed.drill)?.drill;
  const kind = findDrill(mine?.name ?? typed.drill)!;
  const text = (name: "repeats" | "reserve") => ({
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
      direction: kept?.direction ?? asWay(chosen, typed.direction),
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
    const sent = await send<{ id: string }>(
      "POST",
      `/api/rigs/${asked.rigId}/measurements`,
      request(asked),
    );
    setBusy(false);
    if (sent.ok) return onStarted(sent.data.id);
    setErrors(Object.fromEntries(sent.error.fields.map(({ path, message }) => [path, message])));
    setTrouble(sent.error);
  }

  const request = (asked: Typed) => ({
    ...requestOf(kind, asked, mine?.title),
    stated: statedOf(stated),
  });

  function putRight(fix: Fix) {
    if (fix.do === "buffered") change({ buffered: true });
    else if (fix.do === "set") {
      const parameter = kind.parameters[fix.name];
      if (!parameter) return;
      change({ settings: { ...typed.settings, [fix.name]: textOf(parameter, fix.value) } });
    } else onRigAsSeen(typed.rigId, typed.target);
  }

  return (
    <Form onSend={start} className="space-y-3 border border-line bg-sheet p-4">
      <div className="grid grid-cols-[minmax(0,1fr)] gap-3 md:grid-cols-[1.2fr_2fr_1fr]">
        <Field label="Rig" error={errors.rigId}>
          <Select
            name="rig"
            value={typed.rigId}
            options={rigs.map(({ id, name }, i) => ({
              value: id,
              text: `${letterOf(i)} · ${name}`,
            }))}
            onChange={(next) => change({ rigId: next, target: targets[next] ?? typed.target })}
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
      {kind.recorded && (
        <RecordingsField
          text={typed.settings.recordings ?? ""}
          error={errors.recordings}
          onChange={(recordings) => change({ settings: { ...typed.settings, recordings } })}
        />
      )}
      <WhereFields kind={kind} typed={typed} drives={drives} errors={errors} onChange={placed} />
      {placeFrom(typed.target).host === null && (
        <BallastField target={typed.target} reserve={reserveOf(typed.reserve)} />
      )}
      <Fold
        open={Object.keys(errors).some((at) => isFolded(kind, at.split(".")[0]!))}
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
      <StatedFields value={stated} onChange={onStated} />
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
      <div className="flex flex-wrap items-center justify-end gap-4">
        {rigs.length === 0 && (
          <span>
            There is no rig yet.{" "}
            <Link href="rigs" className="underline">
              Describe one
            </Link>{" "}
            first.
          </span>
        )}
        <EverydayPlan
          studyId={studyId}
          rig={rigs.find(({ id }) => id === typed.rigId)}
          all={rigs}
          target={typed.target}
          facts={facts}
          reserve={reserveOf(typed.reserve)}
          stated={statedOf(stated)}
          onBegun={onPlanned}
          onTrouble={(message) => setTrouble({ message, code: null })}
        />
        <Button main type="submit" disabled={busy || rigs.length === 0}>
          {busy ? "Detecting ..." : "Measure"}
        </Button>
      </div>
      {/* Behind the buttons: what comes by itself would move them from under a press. */}
      <Preflight
        rigId={typed.rigId}
        request={request(typed)}
        target={typed.target}
        onFix={putRight}
      />
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
    </Form>
  );
}

/** Whether a field is one of those that are folded away; recordings stand above. */
const isFolded = ({ parameters }: DrillKind, field: string): boolean =>
  (field in parameters && parameters[field]!.kind !== "recordings") ||
  field === "repeats" ||
  field === "reserve";
