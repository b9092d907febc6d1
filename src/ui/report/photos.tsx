"use client";

import { useState } from "react";
import {
  MOST_PHOTOS,
  SECTIONS,
  type ReportChoice,
  type SectionKey,
} from "@/core/study/report-choice";
import { Button, Field, Input } from "../controls/form";
import { Select } from "../controls/select";
import { AddPhoto } from "../photos/add-photo";

type Chosen = ReportChoice["photos"][number];

const PLACES = (Object.keys(SECTIONS) as SectionKey[]).map((key) => ({
  value: key,
  text: SECTIONS[key],
}));

/** The pictures of the bench: what each shows, and where it stands. */
export function Photos({
  photos,
  onChange,
}: {
  photos: readonly Chosen[];
  onChange: (photos: Chosen[]) => void;
}) {
  const change = (i: number, change: Partial<Chosen>) =>
    onChange(photos.map((one, j) => (j === i ? { ...one, ...change } : one)));
  return (
    <section className="space-y-2">
      <h2 className="font-semibold">Pictures of the bench</h2>
      {photos.map((photo, i) => (
        <div key={`${photo.id} ${i}`} className="flex gap-3 border-t border-line pt-2">
          {/* eslint-disable-next-line @next/next/no-img-element -- it is as large as it is kept */}
          <img
            src={`/api/photos/${photo.id}`}
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
      <AddPhoto
        of="the bench"
        disabled={photos.length >= MOST_PHOTOS}
        onAdded={(id, name) =>
          onChange([...photos, { id, section: "method", caption: name || "The bench" }])
        }
      />
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
