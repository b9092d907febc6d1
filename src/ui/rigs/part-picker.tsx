"use client";

import { useRef, useState } from "react";
import { PART_KIND_NAMES, type Part, type PartKind } from "@/core/chain/part";
import { Combobox, type Choice } from "../controls/combobox";
import { send } from "../controls/send";

interface Found {
  fits: Part[];
  cannot: { part: Part; why: string }[];
  total: number;
}

const NOTHING: Found = { fits: [], cannot: [], total: 0 };

/** Picks a part of the shelf for a place in a chain: first what can stand there, then why others cannot. */
export function PartPicker({
  label,
  name,
  shown,
  before,
  after,
  kinds = [],
  plain = false,
  onPick,
  className,
}: {
  label: string;
  name?: string;
  shown: string;
  before: readonly Part[];
  after: readonly Part[];
  /** Kinds to choose from; all of them where none is named. */
  kinds?: PartKind[];
  /** Looks like a word, not like a field. */
  plain?: boolean;
  onPick: (part: Part) => void;
  className?: string;
}) {
  const [found, setFound] = useState(NOTHING);
  const [trouble, setTrouble] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const latest = useRef(0);
  const ids = (parts: readonly Part[]) => parts.map(({ id }) => id);

  async function look(sought: string) {
    const asked = ++latest.current;
    setBusy(true);
    const query = { before: ids(before), after: ids(after), kinds, sought };
    const sent = await send<Found>("POST", "/api/parts/fitting", query);
    if (asked !== latest.current) return; // an answer to what was typed before
    setBusy(false);
    setTrouble(sent.ok ? null : sent.error.message);
    if (sent.ok) setFound(sent.data);
  }

  return (
    <Combobox
      label={label}
      name={name}
      shown={shown}
      className={className}
      plain={plain}
      groups={[
        { heading: "can stand here", items: found.fits.map(choice) },
        {
          heading: "cannot stand here",
          items: found.cannot.map(({ part, why }) => ({ ...choice(part), why })),
        },
      ]}
      onSearch={look}
      busy={busy}
      note={
        trouble ??
        (found.total > found.fits.length
          ? `${found.fits.length} of ${found.total} that fit; type to narrow them down`
          : undefined)
      }
      onPick={(id) => {
        const part = found.fits.find((candidate) => candidate.id === id);
        if (part) onPick(part);
      }}
    />
  );
}

const choice = ({ id, kind, name, tag, maker, model }: Part): Choice => ({
  id,
  text: `${PART_KIND_NAMES[kind]}: ${name}`,
  hint: [tag, maker, model].filter(Boolean).join(", "),
});
