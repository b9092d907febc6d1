"use client";

import { X } from "lucide-react";
import { DRILLS, drillNamed } from "@/core/drills/catalogue";
import { asWay, type DrillDirection } from "@/core/drills/kind";
import type { TargetFacts } from "@/core/drills/parameter";
import { settle } from "@/core/drills/settle";
import { Fold } from "../controls/fold";
import { Select } from "../controls/select";
import { DrillFields } from "../measure/form/drill-fields";
import { settingsOf, type TypedSettings } from "../measure/form/typed-settings";
import { RecordingsField } from "../measure/form/recordings-field";
import { WAYS } from "../measure/form/ways";

/** A drill of a plan, as it is put together. */
export interface TypedDrill {
  key: number;
  name: string;
  direction: DrillDirection;
  settings: TypedSettings;
}

/** Drills that go to one place after another. */
const SINGLE = DRILLS.filter(({ targets }) => targets === "one");

/** One drill of a plan: which, which way, and everything that can be set of it. */
export function PlannedDrill({
  at,
  drill: { name, direction, settings },
  facts,
  onChange,
  onLeave,
}: {
  /** Its place in the plan, from 1. */
  at: number;
  drill: TypedDrill;
  /** Of the place where the first rig is measured. */
  facts: TargetFacts | null;
  onChange: (part: Partial<TypedDrill>) => void;
  /** Null for the only one. */
  onLeave: (() => void) | null;
}) {
  const kind = drillNamed(name);
  return (
    <li>
      <div className="grid grid-cols-[2fr_1fr_auto] items-center gap-3">
        <Select
          label={`Drill ${at}`}
          value={name}
          options={SINGLE.map((one) => ({ value: one.name, text: `${one.title}: ${one.what}` }))}
          onChange={(next) => {
            if (!next) return;
            onChange({
              name: next,
              direction: asWay(drillNamed(next), direction),
              settings: {},
            });
          }}
        />
        <Select
          label={`Direction of drill ${at}`}
          value={direction}
          options={kind.directions.map((way) => ({ value: way, text: WAYS[way] }))}
          onChange={(next) => next && onChange({ direction: next })}
        />
        <button
          type="button"
          aria-label={`Remove drill ${at}`}
          className="rounded-sm border border-line p-1 disabled:opacity-30"
          disabled={onLeave === null}
          onClick={() => onLeave?.()}
        >
          <X size={15} aria-hidden />
        </button>
      </div>
      {kind.recorded && (
        <RecordingsField
          text={settings.recordings ?? ""}
          error={undefined}
          onChange={(recordings) => onChange({ settings: { ...settings, recordings } })}
        />
      )}
      <Fold
        className="text-sm"
        summary={
          <span className="text-secondary">
            <span className="sr-only">Settings of drill {at}: </span>
            {summaryOf(name, settings, facts)}
          </span>
        }
      >
        <DrillFields
          kind={kind}
          prefix={`plan-${at}-`}
          typed={settings}
          facts={facts}
          errors={{}}
          onChange={(of, text) => onChange({ settings: { ...settings, [of]: text } })}
        />
      </Fold>
    </li>
  );
}

/** What will be done, in a line; where something makes no sense yet, what that is. */
function summaryOf(name: string, settings: TypedSettings, facts: TargetFacts | null): string {
  const kind = drillNamed(name);
  try {
    return kind.summary(settle(kind, settingsOf(kind, settings), facts) as never);
  } catch {
    return "Something set here does not make sense yet";
  }
}
