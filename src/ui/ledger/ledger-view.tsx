"use client";

import { useRouter } from "next/navigation";
import { useState } from "react";
import { capital } from "@/core/chain/wording";
import {
  account,
  ownAssumptions,
  TRANSPORT_NAMES,
  type LedgerAccount,
} from "@/core/ledger/account";
import { modeOf } from "@/core/ledger/catalogue";
import type { LinkMode, TransportId } from "@/core/ledger/mode";
import { DOING, type Direction } from "@/core/units/rate";
import { Dialog } from "../controls/dialog";
import { Button, Field, Input } from "../controls/form";
import { DIRECTIONS, Select } from "../controls/select";
import { send } from "../controls/send";
import { Tip } from "../controls/tip";
import { sayFailed, sayRemoved } from "../controls/toast";
import { Toggle } from "../controls/toggle";
import { useRates } from "../frame/unit";
import { Saveable } from "../out/saveable";
import { Converter } from "./converter";
import { ModeChart } from "./mode-chart";
import { ModePicker } from "./mode-picker";
import { OwnModeForm } from "./own-mode-form";
import { accountRows, Waterfall } from "./waterfall";

const MOST = 4;

/** What a mode is looked at with: which protocol above it, and what others hold of it. */
interface Setting {
  transport?: TransportId;
  held: string;
}

const PLAIN: Setting = { held: "" };

/** Every standard link, step by step from signalling to payload; several side by side. */
export function LedgerView({ initial }: { initial: string[] }) {
  const router = useRouter();
  const { unit } = useRates();
  const [ids, setIds] = useState(initial);
  const [settings, setSettings] = useState<Setting[]>(initial.map(() => PLAIN));
  const [direction, setDirection] = useState<Direction>("read");
  const [assumptions, setAssumptions] = useState<Record<string, number>>({});
  const [describing, setDescribing] = useState(false);

  const show = (nextIds: string[], nextSettings: Setting[]) => {
    setIds(nextIds);
    setSettings(nextSettings);
    const query = new URLSearchParams(nextIds.map((id) => ["mode", id]));
    window.history.replaceState(null, "", `?${query}`);
  };
  const set = (i: number, setting: Partial<Setting>) =>
    setSettings(settings.with(i, { ...settings[i]!, ...setting }));
  const modes = ids.map(modeOf);
  const ledgers = modes.map((mode, i) =>
    account(mode, direction, {
      transport: settings[i]!.transport,
      held: Math.max(0, Number(settings[i]!.held) || 0),
      assumptions: ownAssumptions(mode, assumptions),
    }),
  );
  const widest = Math.max(...ledgers.flatMap(({ rows }) => rows.map(({ mbps }) => mbps)));

  return (
    <>
      <div className="mt-4 mb-3 flex flex-wrap items-end gap-3">
        <h1 className="mr-auto font-serif text-[28px]">Link ledger</h1>
        <Toggle label="Direction" value={direction} options={DIRECTIONS} onChange={setDirection} />
        <Button onClick={() => setDescribing(true)}>Describe a mode of your own</Button>
        {ids.length < MOST && (
          <Button onClick={() => show([...ids, ids.at(-1)!], [...settings, PLAIN])}>
            Another beside it
          </Button>
        )}
      </div>
      <div
        className="grid gap-4"
        style={{ gridTemplateColumns: `repeat(${ids.length}, minmax(0, 1fr))` }}
      >
        {ledgers.map((ledger, i) => (
          <section key={i} className="border border-line bg-sheet p-4">
            <div className="mb-2 flex gap-2">
              <ModePicker
                value={ids[i]!}
                onChange={(id) => show(ids.with(i, id), settings.with(i, PLAIN))}
              />
              {ids.length > 1 && (
                <Button
                  aria-label="Remove this mode"
                  onClick={() => show(ids.toSpliced(i, 1), settings.toSpliced(i, 1))}
                >
                  ✕
                </Button>
              )}
            </div>
            <Summary mode={modes[i]!} ledger={ledger} />
            <Settings
              mode={modes[i]!}
              ledger={ledger}
              setting={settings[i]!}
              onSetting={(setting) => set(i, setting)}
              onAssumption={(name, value) => setAssumptions({ ...assumptions, [name]: value })}
            />
            <Saveable
              caption={{
                title: `${modes[i]!.name}, ${DOING[direction]}`,
                note: `From signalling rate to payload, ${unit}: each step, what it leaves, and where that is written.`,
              }}
              rows={accountRows(ledger, unit)}
            >
              <Waterfall ledger={ledger} widest={widest} />
            </Saveable>
            {modes[i]!.family === "own" && (
              <button
                type="button"
                className="mt-2 text-sm underline"
                onClick={async () => {
                  const mode = { id: ids[i] };
                  const sent = await send("DELETE", "/api/modes", mode);
                  router.refresh();
                  if (!sent.ok) return sayFailed(sent.error.message);
                  sayRemoved(`${modes[i]!.name} is off the list.`, async () => {
                    const back = await send("PUT", "/api/modes", mode);
                    router.refresh();
                    return back.ok ? null : back.error.message;
                  });
                }}
              >
                Remove this mode from the list; parts that name it keep it
              </button>
            )}
          </section>
        ))}
      </div>
      <div className="mt-4 grid grid-cols-[minmax(0,1fr)] gap-4 xl:grid-cols-[minmax(0,1fr)_380px]">
        <ModeChart direction={direction} onPick={(id) => show([id], [PLAIN])} />
        <Converter rate={ledgers[0]!.attainable.high} />
      </div>
      <Dialog title="A mode of your own" open={describing} onOpenChange={setDescribing}>
        <OwnModeForm
          onSaved={(id) => {
            setDescribing(false);
            show([id], [PLAIN]);
          }}
        />
      </Dialog>
    </>
  );
}

/** What may be changed of a mode's account: protocol, assumptions, what others hold. */
function Settings({
  mode,
  ledger,
  setting,
  onSetting,
  onAssumption,
}: {
  mode: LinkMode;
  ledger: LedgerAccount;
  setting: Setting;
  onSetting: (setting: Partial<Setting>) => void;
  onAssumption: (name: string, value: number) => void;
}) {
  return (
    <div className="mb-2 flex flex-wrap items-end gap-x-4 gap-y-1 text-sm">
      {mode.transports.length > 1 && (
        <Field label="Driver mode" className="max-w-full">
          <Select
            name="transport"
            value={ledger.transport}
            options={mode.transports.map(({ id }) => ({ value: id, text: TRANSPORT_NAMES[id] }))}
            onChange={(next) => next && onSetting({ transport: next })}
          />
        </Field>
      )}
      {Object.entries(mode.assumptions).map(([name, { label, unit, options, note }]) => (
        <Tip key={name} text={note}>
          <div>
            <Field label={capital(label)}>
              <Select
                name={name}
                value={String(ledger.assumptions[name])}
                options={options.map((value) => ({
                  value: String(value),
                  text: `${value} ${unit}`,
                }))}
                onChange={(next) => onAssumption(name, Number(next))}
              />
            </Field>
          </div>
        </Tip>
      ))}
      <Tip text="a display behind the same dock, a busy neighbour on the same hub">
        <div>
          <Field label="Used by other devices, MB/s">
            <Input
              name="held"
              inputMode="decimal"
              className="figure !w-28"
              value={setting.held}
              onChange={(event) => onSetting({ held: event.target.value })}
            />
          </Field>
        </div>
      </Tip>
    </div>
  );
}

function Summary({ mode, ledger }: { mode: LinkMode; ledger: LedgerAccount }) {
  const { hardCeiling, attainable } = ledger;
  const { rate, said } = useRates();
  return (
    <div className="mb-3">
      <p className="font-serif text-lg leading-snug">
        Nothing honest exceeds <b className="font-semibold">{said(hardCeiling)}</b>; good hardware
        good hardware: {rate(attainable.low)} to {rate(attainable.high)}.
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
