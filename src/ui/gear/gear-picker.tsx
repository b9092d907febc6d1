"use client";

import { useState } from "react";
import { PART_KIND_NAMES, PartKind } from "@/core/chain/part";
import { readEntry } from "@/core/gear/entry";
import { GEAR_KINDS, gearName, OTHER_KINDS, type GearKind } from "@/core/gear/gear-kind";
import { Combobox, type Choices } from "../controls/combobox";

/** More of each sort than anybody reads. */
const MOST_SHOWN = 60;

/** Chooses what a part is, as gear is sold: by typing any words of it. */
export function GearPicker({
  kinds,
  shown,
  onPick,
}: {
  kinds: readonly GearKind[];
  /** What it is now; empty where nothing was chosen. */
  shown: string;
  /** @param typed all that was typed to find it */
  onPick: (kind: GearKind, typed: string) => void;
}) {
  const [typed, setTyped] = useState("");
  const found = readEntry(typed, kinds).kinds;
  // A word that only another part of the shelf has is a name here.
  const said = readEntry(typed, found[0]?.like ? kinds : GEAR_KINDS);
  const groups = PartKind.options.map((sort): Choices => ({
    heading: PART_KIND_NAMES[sort],
    items: found
      .filter(({ kind }) => kind === sort)
      .slice(0, MOST_SHOWN)
      .map((kind) => ({ id: kind.id, text: kind.what, hint: kind.detail })),
  }));
  // The sort of the likeliest stands first, so that Enter takes it.
  const first = found[0]?.kind;
  const at = groups.findIndex(({ heading }) => first && heading === PART_KIND_NAMES[first]);
  return (
    <Combobox
      label="What is it?"
      name="gear"
      shown={shown || <span className="text-secondary">for example: 10g nvme box</span>}
      groups={at > 0 ? [groups[at]!, ...groups.toSpliced(at, 1)] : groups}
      onSearch={setTyped}
      note={
        [said.name && `called ${said.name}`, said.claims && `claims: ${said.claims}`]
          .filter(Boolean)
          .join("; ") || undefined
      }
      onPick={(id) => {
        const kind = kinds.find((one) => one.id === id);
        if (kind) onPick(kind, typed);
      }}
    />
  );
}

/** What a part of some kind is called where it has no name yet. */
export const plainName = (kind: GearKind): string =>
  kind.like?.name ?? (OTHER_KINDS.includes(kind) ? "" : gearName(kind));
