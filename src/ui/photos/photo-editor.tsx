"use client";

import { X } from "lucide-react";
import { useRef, useState } from "react";
import type { PhotoRef } from "@/core/chain/photo-ref";
import { Button, Input, Trouble } from "../controls/form";
import { sendBytes } from "../controls/send";
import { smaller } from "./smaller";

/** Adds pictures to a part or a rig: the opened box, the chip, a damage, a thermal picture. */
export function PhotoEditor({
  photos,
  onChange,
}: {
  photos: readonly PhotoRef[];
  onChange: (photos: PhotoRef[]) => void;
}) {
  const file = useRef<HTMLInputElement>(null);
  const [trouble, setTrouble] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  async function add(chosen: File) {
    setBusy(true);
    const sent = await sendBytes<{ id: string }>("/api/photos", await smaller(chosen));
    setBusy(false);
    setTrouble(sent.ok ? null : sent.error.message);
    if (!sent.ok || photos.some(({ id }) => id === sent.data.id)) return;
    const caption = chosen.name.replace(/\.\w+$/, "").slice(0, 300) || "The part";
    onChange([...photos, { id: sent.data.id, caption }]);
  }
  return (
    <div className="mt-2 space-y-2">
      {photos.map(({ id, caption }, i) => (
        <div key={id} className="flex items-center gap-2">
          {/* eslint-disable-next-line @next/next/no-img-element -- it is as large as it is kept */}
          <img
            src={`/api/photos/${id}`}
            alt={caption}
            className="size-16 shrink-0 border border-line object-cover"
          />
          <Input
            aria-label="What the picture shows"
            maxLength={300}
            value={caption}
            onChange={(event) => onChange(photos.with(i, { id, caption: event.target.value }))}
          />
          <Button
            aria-label={`Remove the picture: ${caption}`}
            className="!px-1.5"
            onClick={() => onChange(photos.toSpliced(i, 1))}
          >
            <X size={14} aria-hidden />
          </Button>
        </div>
      ))}
      <input
        ref={file}
        type="file"
        accept="image/png,image/jpeg"
        aria-label="A picture of it"
        className="sr-only"
        tabIndex={-1}
        onChange={(event) => {
          const [chosen] = event.target.files ?? [];
          event.target.value = "";
          if (chosen) void add(chosen);
        }}
      />
      <Button disabled={busy} onClick={() => file.current?.click()}>
        {busy ? "Adding …" : "Add a picture"}
      </Button>
      <p className="text-[13px] text-secondary">
        PNG or JPEG. Place, time and names in it are removed; large ones are made smaller.
      </p>
      {trouble && <Trouble>{trouble}</Trouble>}
    </div>
  );
}
