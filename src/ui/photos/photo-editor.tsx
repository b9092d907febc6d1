"use client";

import { X } from "lucide-react";
import { MOST_PHOTOS, type PhotoRef } from "@/core/chain/photo-ref";
import { Button, Input } from "../controls/form";
import { AddPhoto } from "./add-photo";

/** Adds pictures to a part, a rig or a run: the opened box, the chip, a damage, a thermal picture. */
export function PhotoEditor({
  of = "it",
  photos,
  onChange,
}: {
  /** What they are pictures of. */
  of?: string;
  photos: readonly PhotoRef[];
  onChange: (photos: PhotoRef[]) => void;
}) {
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
      <AddPhoto
        of={of}
        disabled={photos.length >= MOST_PHOTOS}
        onAdded={(id, name) => {
          if (!photos.some((photo) => photo.id === id))
            onChange([...photos, { id, caption: name || `A picture of ${of}` }]);
        }}
      />
    </div>
  );
}
