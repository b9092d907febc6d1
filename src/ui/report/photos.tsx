"use client";

import { useRef, useState } from "react";
import {
  MOST_PHOTOS,
  SECTIONS,
  type ReportChoice,
  type SectionKey,
} from "@/core/study/report-choice";
import { Button, Field, Input, Trouble } from "../controls/form";
import { Select } from "../controls/select";
import { smaller } from "../photos/smaller";

type Chosen = ReportChoice["photos"][number];

const PLACES = (Object.keys(SECTIONS) as SectionKey[]).map((key) => ({
  value: key,
  text: SECTIONS[key],
}));

/** The pictures of the bench: what each shows, and where it stands. */
export function Photos({
  base,
  photos,
  onChange,
}: {
  /** Where pictures are sent to. */
  base: string;
  photos: readonly Chosen[];
  onChange: (photos: Chosen[]) => void;
}) {
  const file = useRef<HTMLInputElement>(null);
  const [trouble, setTrouble] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const add = async (chosen: File) => {
    setBusy(true);
    const sent = await fetch(base, { method: "POST", body: await smaller(chosen) }).catch(
      () => null,
    );
    const said = (await sent?.json().catch(() => null)) as
      ({ id: string } & { error?: { message: string } }) | null;
    setBusy(false);
    if (!sent?.ok || !said)
      return setTrouble(said?.error?.message ?? "Nerrit did not answer; nothing was kept.");
    setTrouble(null);
    const name = chosen.name.replace(/\.\w+$/, "").slice(0, 300);
    onChange([...photos, { id: said.id, section: "method", caption: name || "The bench" }]);
  };
  const change = (i: number, change: Partial<Chosen>) =>
    onChange(photos.map((one, j) => (j === i ? { ...one, ...change } : one)));
  return (
    <section className="space-y-2">
      <h2 className="font-semibold">Pictures of the bench</h2>
      {photos.map((photo, i) => (
        <div key={`${photo.id} ${i}`} className="flex gap-3 border-t border-line pt-2">
          {/* eslint-disable-next-line @next/next/no-img-element -- it is as large as it is kept */}
          <img
            src={`${base}/${photo.id}`}
            alt={photo.caption}
            className="size-20 shrink-0 border border-line object-cover"
          />
          <div className="min-w-0 flex-1 space-y-1.5">
            <Caption text={photo.caption} onKeep={(caption) => change(i, { caption })} />
            <div className="flex items-center gap-2">
              <Select<SectionKey>
                label="Where it stands"
                value={photo.section}
                options={PLACES}
                onChange={(section) => section && change(i, { section })}
              />
              <Button onClick={() => onChange(photos.filter((_, j) => j !== i))}>Remove</Button>
            </div>
          </div>
        </div>
      ))}
      <input
        ref={file}
        type="file"
        accept="image/png,image/jpeg"
        aria-label="A picture of the bench"
        className="sr-only"
        tabIndex={-1}
        onChange={(event) => {
          const [chosen] = event.target.files ?? [];
          event.target.value = "";
          if (chosen) void add(chosen);
        }}
      />
      <Button onClick={() => file.current?.click()} disabled={busy || photos.length >= MOST_PHOTOS}>
        {busy ? "Adding …" : "Add a picture"}
      </Button>
      <p className="text-[13px] text-secondary">
        PNG or JPEG. Place, time and names in it are taken out; large ones are made smaller.
      </p>
      {trouble && <Trouble>{trouble}</Trouble>}
    </section>
  );
}

/** What a picture shows; kept when it is left, unless it says nothing. */
function Caption({ text, onKeep }: { text: string; onKeep: (text: string) => void }) {
  const [typed, setTyped] = useState(text);
  return (
    <Field label="What it shows" error={typed.trim() ? undefined : "say what it shows"}>
      <Input
        value={typed}
        maxLength={300}
        onChange={(event) => setTyped(event.target.value)}
        onBlur={() => typed.trim() && typed !== text && onKeep(typed)}
      />
    </Field>
  );
}
