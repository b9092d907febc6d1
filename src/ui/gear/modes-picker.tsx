"use client";

import { useState, type ReactNode } from "react";
import { findMode, MODES } from "@/core/ledger/catalogue";
import { statedModeId } from "@/core/ledger/modes/stated";
import type { FamilyId } from "@/core/ledger/mode";
import { Checkbox } from "../controls/checkbox";
import { Fold } from "../controls/fold";
import { Button, Input } from "../controls/form";
import { FAMILY_NAMES } from "@/core/ledger/families";
import { useModes } from "../ledger/own-modes";

/** Those that nearly every part of a bench has, shown at once; the rest unfolds. */
const COMMON: FamilyId[] = ["usb", "usb4", "pcie", "sata"];
const FAMILIES: FamilyId[] = [...new Set(MODES.map(({ family }) => family)), "own"];

/** The modes of one connector: tick those it supports, or state the rate of a link of another kind. */
export function ModesPicker({
  legend,
  value,
  onChange,
  error,
  children,
}: {
  legend: string;
  value: string[];
  onChange: (modes: string[]) => void;
  error?: string;
  /** What else there is to say of the connector. */
  children?: ReactNode;
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
    <fieldset
      data-modes
      className="border border-line px-3 pb-2"
      aria-invalid={error ? true : undefined}
    >
      <legend className="px-1 text-sm font-medium">{legend}</legend>
      {children && <div className="mb-1 flex flex-wrap gap-x-4 gap-y-1">{children}</div>}
      {COMMON.map((family) => (
        <Family key={family} family={family} value={value} onToggle={toggle} />
      ))}
      <Fold
        className="text-[13px]"
        open={value.some((id) => isRare(findMode(id)!.family))}
        summary={
          <span className="text-secondary">
            Thunderbolt, cards, SAS, Ethernet, older links and your own modes
          </span>
        }
      >
        {FAMILIES.filter(isRare).map((family) => (
          <Family key={family} family={family} value={value} onToggle={toggle} />
        ))}
      </Fold>
      <div className="mt-1 flex flex-wrap items-center gap-2 text-sm">
        <span className="text-[13px] text-secondary">Other link, stated rate</span>
        {others.map((id) => (
          <button
            key={id}
            type="button"
            onClick={() => toggle(id)}
            aria-label={`Remove ${findMode(id)!.short}`}
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

const isRare = (family: FamilyId) => family !== "stated" && !COMMON.includes(family);

function Family({
  family,
  value,
  onToggle,
}: {
  family: FamilyId;
  value: string[];
  onToggle: (id: string) => void;
}) {
  const name = FAMILY_NAMES[family];
  const modes = useModes().filter((mode) => mode.family === family);
  if (modes.length === 0) return null;
  return (
    <div className="grid grid-cols-[84px_minmax(0,1fr)] items-baseline">
      <span className="text-[13px] text-secondary">{name}</span>
      <span className="flex flex-wrap gap-x-3">
        {modes.map((mode) => (
          <Checkbox
            key={mode.id}
            mode={mode.id}
            checked={value.includes(mode.id)}
            onChange={() => onToggle(mode.id)}
            className="text-sm whitespace-nowrap"
          >
            {mode.name.replace(`${name} `, "")}
          </Checkbox>
        ))}
      </span>
    </div>
  );
}
