"use client";

import { useState } from "react";
import type { PhotoRef } from "@/core/chain/photo-ref";
import { Dialog } from "../controls/dialog";
import { Button, Form, Trouble } from "../controls/form";
import { send } from "../controls/send";
import { PhotoEditor } from "../photos/photo-editor";

/** Adds pictures to a run, and takes them away again. */
export function RunPhotos({
  runId,
  photos,
  onChanged,
}: {
  runId: string;
  photos: PhotoRef[];
  onChanged: () => void;
}) {
  const [editing, setEditing] = useState<PhotoRef[] | null>(null);
  const [trouble, setTrouble] = useState<string | null>(null);
  async function save() {
    const sent = await send("PUT", `/api/runs/${runId}/photos`, { photos: editing });
    setTrouble(sent.ok ? null : (sent.error.fields[0]?.message ?? sent.error.message));
    if (!sent.ok) return;
    setEditing(null);
    onChanged();
  }
  return (
    <>
      <Button onClick={() => setEditing(photos)}>
        {photos.length > 0 ? "Change its pictures" : "Add a picture"}
      </Button>
      <Dialog
        title="Pictures of the run"
        open={editing !== null}
        onOpenChange={(open) => !open && setEditing(null)}
      >
        <Form onSend={save}>
          <PhotoEditor of="the run" photos={editing ?? []} onChange={setEditing} />
          {trouble && <Trouble>{trouble}</Trouble>}
          <div className="flex justify-end">
            <Button main type="submit">
              Save the pictures
            </Button>
          </div>
        </Form>
      </Dialog>
    </>
  );
}
