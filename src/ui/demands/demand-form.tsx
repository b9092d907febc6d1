"use client";

import { useState } from "react";
import { doing } from "@/core/chain/wording";
import { DEMAND_PRESETS, presetRate } from "@/core/demand/presets";
import { Copy, copyRate, Demand, needOf, Stream, streamRate } from "@/core/study/demand";
import { plainWords } from "@/core/units/plain-words";
import { Direction } from "@/core/units/rate";
import { Button, Field, Form, Input, Trouble } from "../controls/form";
import { Select } from "../controls/select";
import { useRates } from "../frame/unit";

type Typed = Record<string, string>;

const NEW_STREAM: Typed = {
  what: "camera",
  direction: "write",
  width: "3840",
  height: "2160",
  perSecond: "30",
  bits: "24",
  streams: "1",
  compression: "1",
};
const NEW_COPY: Typed = { what: "card", direction: "write", gigabytes: "256", minutes: "20" };

const STREAM_FIELDS: [string, string][] = [
  ["width", "pixels wide"],
  ["height", "pixels high"],
  ["perSecond", "a second"],
  ["bits", "bits each"],
  ["streams", "streams"],
  ["compression", "compressed by"],
];
const COPY_FIELDS: [string, string][] = [
  ["gigabytes", "GB"],
  ["minutes", "within minutes"],
];

const WAYS = [
  { value: "write", text: "written to the drive" },
  { value: "read", text: "read from the drive" },
];

const asTyped = (item: object): Typed =>
  Object.fromEntries(Object.entries(item).map(([name, value]) => [name, String(value)]));

/** Builds a demand from streams and copies; what it comes to shows while it is typed. */
export function DemandForm({
  initial,
  onSave,
}: {
  initial: Demand | null;
  /** @returns what went wrong, if anything */
  onSave: (demand: Demand) => Promise<string | null>;
}) {
  const { said } = useRates();
  const [name, setName] = useState(initial?.name ?? "");
  const [streams, setStreams] = useState((initial?.streams ?? []).map(asTyped));
  const [copies, setCopies] = useState((initial?.copies ?? []).map(asTyped));
  const [preset, setPreset] = useState("");
  const source = DEMAND_PRESETS.find(({ demand }) => demand.name === preset)?.source;
  const [tried, setTried] = useState(false);
  const [trouble, setTrouble] = useState<string | null>(null);
  const parsed = Demand.safeParse({ name, streams, copies }, { error: plainWords });
  const errors = new Map(
    tried
      ? (parsed.error?.issues ?? []).map((issue): [string, string] => [
          issue.path.join("."),
          issue.message,
        ])
      : [],
  );

  function take(chosen: string) {
    const found = DEMAND_PRESETS.find(({ demand }) => demand.name === chosen);
    if (!found) return;
    setPreset(chosen);
    setName(found.demand.name);
    setStreams(found.demand.streams.map(asTyped));
    setCopies(found.demand.copies.map(asTyped));
  }

  return (
    <Form
      onSend={async () => {
        setTried(true);
        if (parsed.success) setTrouble(await onSave(parsed.data));
      }}
    >
      {initial === null && (
        <Field label="Start from an everyday job" hint={source || "or describe your own below"}>
          <Select
            name="demand-preset"
            value={preset}
            options={[
              { value: "", text: "choose one ..." },
              ...DEMAND_PRESETS.map((one) => ({
                value: one.demand.name,
                text: `${one.demand.name}: ${said(presetRate(one))}`,
              })),
            ]}
            onChange={take}
          />
        </Field>
      )}
      <Field label="Name" hint="for example: two cameras in the field" error={errors.get("name")}>
        <Input
          autoFocus
          name="demand-name"
          value={name}
          onChange={(event) => setName(event.target.value)}
        />
      </Field>
      <Items
        legend="Streams, all at once"
        path="streams"
        items={streams}
        fields={STREAM_FIELDS}
        errors={errors}
        rate={(item) => rateOf(Stream.safeParse(item).data, streamRate, said)}
        onChange={setStreams}
        onAdd={() => setStreams([...streams, NEW_STREAM])}
        add="Add a stream"
      />
      <Items
        legend="Copies, one after another"
        path="copies"
        items={copies}
        fields={COPY_FIELDS}
        errors={errors}
        rate={(item) => rateOf(Copy.safeParse(item).data, copyRate, said)}
        onChange={setCopies}
        onAdd={() => setCopies([...copies, NEW_COPY])}
        add="Add a copy"
      />
      <p role="status">
        {parsed.success
          ? `Asks for ${Direction.options
              .filter((direction) => needOf(parsed.data, direction) > 0)
              .map((way) => `${said(needOf(parsed.data, way))} ${doing(way)}`)
              .join(" and ")}, sustained.`
          : "What it asks for shows here once every field makes sense."}
      </p>
      {errors.has("streams") && <Trouble>{errors.get("streams")}</Trouble>}
      {trouble && <Trouble>{trouble}</Trouble>}
      <div className="flex justify-end">
        <Button main type="submit">
          Save the demand
        </Button>
      </div>
    </Form>
  );
}

function rateOf<T>(
  item: T | undefined,
  rate: (item: T) => number,
  said: (mbps: number) => string,
): string {
  return item === undefined ? "" : said(rate(item));
}

function Items({
  legend,
  path,
  items,
  fields,
  errors,
  rate,
  onChange,
  onAdd,
  add,
}: {
  legend: string;
  path: string;
  items: Typed[];
  fields: [string, string][];
  errors: Map<string, string>;
  rate: (item: Typed) => string;
  onChange: (items: Typed[]) => void;
  onAdd: () => void;
  add: string;
}) {
  return (
    <fieldset className="border border-line px-3 pb-2 text-sm">
      <legend className="px-1 font-medium">{legend}</legend>
      {items.map((item, i) => {
        const set = (name: string, value: string) =>
          onChange(items.with(i, { ...item, [name]: value }));
        const wrong = [...errors].find(([at]) => at.startsWith(`${path}.${i}.`))?.[1];
        return (
          <div key={i} className="mb-1 flex flex-wrap items-end gap-2">
            <label>
              what
              <Input
                className="!w-36"
                value={item.what}
                onChange={(event) => set("what", event.target.value)}
              />
            </label>
            <Select
              label="Direction"
              className="!w-auto"
              value={item.direction ?? ""}
              options={WAYS}
              onChange={(next) => set("direction", next)}
            />
            {fields.map(([name, label]) => (
              <label key={name}>
                {label}
                <Input
                  inputMode="decimal"
                  className="figure !w-20"
                  value={item[name]}
                  aria-invalid={errors.has(`${path}.${i}.${name}`) || undefined}
                  onChange={(event) => set(name, event.target.value)}
                />
              </label>
            ))}
            <span className="figure ml-auto pb-1">{rate(item)}</span>
            <Button
              aria-label={`Remove ${item.what}`}
              className="!px-1.5"
              onClick={() => onChange(items.toSpliced(i, 1))}
            >
              ✕
            </Button>
            {wrong && (
              <span className="w-full font-semibold" role="alert">
                ✕ {wrong}
              </span>
            )}
          </div>
        );
      })}
      <button type="button" className="underline" onClick={onAdd}>
        {add}
      </button>
    </fieldset>
  );
}
