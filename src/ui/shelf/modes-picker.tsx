"use client";

import { useState } from "react";
import { findMode, MODES } from "@/core/ledger/catalogue";
import { statedModeId } from "@/core/ledger/modes/stated";
import { Button, Input } from "../controls/form";

const FAMILIES = [
  { family: "usb", name: "USB" },
  { family: "pcie", name: "PCIe" },
  { family: "sata", name: "SATA" },
  { family: "ethernet", name: "Ethernet" },
] as const;

/** The modes of one connector: tick those it supports, or state the rate of a link of another kind. */
export function ModesPicker({
  legend,
  value,
  onChange,
  error,
}: {
  legend: string;
  value: string[];
  onChange: (modes: string[]) => void;
  error?: string;
}) {
  const [stated, setStated] = useState("");
  const toggle = (id: string) =>
    onChange(value.includes(id) ? value.filter((other) => other !== id) : [...value, id]);
  const others = value.filter((id) => id.startsWith("stated-"));
  const add = () => {
    const id = statedModeId(Number(stated));
    if (findMode(id) && !value.includes(id)) {
      onChange([...value, id]);
      setStated("");
    }
  };

  return (
    <fieldset className="border border-line px-3 pb-2" aria-invalid={error ? true : undefined}>
      <legend className="px-1 text-sm font-medium">{legend}</legend>
      {FAMILIES.map(({ family, name }) => (
        <div key={family} className="flex flex-wrap items-baseline gap-x-3 gap-y-0.5">
          <span className="w-16 text-[13px] text-secondary">{name}</span>
          {MODES.filter((mode) => mode.family === family).map((mode) => (
            <label key={mode.id} className="flex items-center gap-1 text-sm">
              <input
                type="checkbox"
                checked={value.includes(mode.id)}
                onChange={() => toggle(mode.id)}
                data-mode={mode.id}
                className="accent-flow"
              />
              {mode.name.replace(`${name} `, "")}
            </label>
          ))}
        </div>
      ))}
      <div className="mt-1 flex flex-wrap items-center gap-2 text-sm">
        <span className="text-[13px] text-secondary">Other link, stated rate</span>
        {others.map((id) => (
          <button
            key={id}
            type="button"
            onClick={() => toggle(id)}
            title="Take it away"
            className="border border-line px-1.5"
          >
            {findMode(id)!.short} ✕
          </button>
        ))}
        <Input
          aria-label="Stated rate in MB/s"
          inputMode="decimal"
          value={stated}
          onChange={(event) => setStated(event.target.value)}
          placeholder="MB/s"
          className="!w-20 !py-0.5"
          onKeyDown={(event) => {
            if (event.key !== "Enter") return;
            event.preventDefault();
            add();
          }}
        />
        <Button className="!py-0 text-sm" disabled={!findMode(`stated-${stated}`)} onClick={add}>
          Add
        </Button>
      </div>
      {error && (
        <p className="text-sm font-semibold" role="alert">
          ✕ {error}
        </p>
      )}
    </fieldset>
  );
}
