"use client";

import { findMode } from "@/core/ledger/catalogue";
import type { LinkMode } from "@/core/ledger/mode";
import { Combobox } from "../controls/combobox";
import { FAMILY_NAMES } from "@/core/ledger/families";
import { useModes } from "./own-modes";

/** Picks a link mode out of all there are, by search or family. */
export function ModePicker({
  label = "Mode",
  value,
  onChange,
}: {
  label?: string;
  value: string;
  onChange: (id: string) => void;
}) {
  const modes = useModes();
  const families = [...new Set(modes.map(({ family }) => family))];
  return (
    <Combobox
      label={label}
      name="mode"
      shown={findMode(value)?.name ?? "Pick a mode"}
      groups={families.map((family) => ({
        heading: FAMILY_NAMES[family],
        items: modes.filter((mode) => mode.family === family).map(choice),
      }))}
      onPick={onChange}
    />
  );
}

const choice = ({ id, name, formal }: LinkMode) => ({ id, text: name, hint: formal });
