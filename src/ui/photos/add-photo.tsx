"use client";

import { useRef, useState } from "react";
import { Button, Trouble } from "../controls/form";
import { sendBytes } from "../controls/send";
import { smaller } from "./smaller";

/** Chooses a picture, makes it smaller, and keeps it among those of the bench. */
export function AddPhoto({
  of,
  disabled = false,
  onAdded,
}: {
  /** What it is a picture of, for those who do not see the button. */
  of: string;
  disabled?: boolean;
  /** @param name of its file, without the ending */
  onAdded: (id: string, name: string) => void;
}) {
  const file = useRef<HTMLInputElement>(null);
  const [trouble, setTrouble] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  async function add(chosen: File) {
    setBusy(true);
    const sent = await sendBytes<{ id: string }>("/api/photos", await smaller(chosen));
    setBusy(false);
    setTrouble(sent.ok ? null : sent.error.message);
    if (sent.ok) onAdded(sent.data.id, chosen.name.replace(/\.\w+$/, "").slice(0, 300));
  }
  return (
    <>
      <input
        ref={file}
        type="file"
        accept="image/png,image/jpeg"
        aria-label={`A picture of ${of}`}
        className="sr-only"
        tabIndex={-1}
        onChange={(event) => {
          const [chosen] = event.target.files ?? [];
          event.target.value = "";
          if (chosen) void add(chosen);
        }}
      />
      <Button disabled={busy || disabled} onClick={() => file.current?.click()}>
        {busy ? "Adding …" : "Add a picture"}
      </Button>
      <p className="text-[13px] text-secondary">
        PNG or JPEG. Place, time and names in it are removed; large ones are made smaller.
      </p>
      {trouble && <Trouble>{trouble}</Trouble>}
    </>
  );
}
