"use client";

import { useState } from "react";
import type { OwnDrill } from "@/core/drills/drill";
import { Button, Field, Input } from "../../controls/form";
import { send } from "../../controls/send";
import { sayFailed, sayRemoved, saySaved } from "../../controls/toast";

/** Keeps what is set as a drill of the tester's own, or takes the chosen one off the list. */
export function KeepDrill({
  own,
  chosen,
  drill,
  onKept,
  onDropped,
}: {
  own: readonly OwnDrill[];
  chosen: string;
  drill: () => object;
  onKept: () => void;
  onDropped: () => void;
}) {
  const [title, setTitle] = useState("");
  const [error, setError] = useState<string>();
  const mine = own.find(({ id }) => id === chosen);
  if (mine) {
    return (
      <div className="self-end">
        <Button
          onClick={async () => {
            const sent = await send("DELETE", "/api/drills", { id: mine.id });
            if (!sent.ok) return sayFailed(sent.error.message);
            sayRemoved(
              `“${mine.drill.title}” is off the list; runs made with it stay.`,
              async () => {
                const back = await send("POST", "/api/drills", mine.drill);
                onKept();
                return back.ok ? null : back.error.message;
              },
            );
            onDropped();
          }}
        >
          Remove “{mine.drill.title}” from the list
        </Button>
      </div>
    );
  }
  return (
    <Field label="Keep as a drill of your own" hint="its name" error={error}>
      <span className="flex gap-2">
        <Input name="own-title" value={title} onChange={(event) => setTitle(event.target.value)} />
        <Button
          onClick={async () => {
            const sent = await send("POST", "/api/drills", { ...drill(), title });
            setError(sent.ok ? undefined : sent.error.message);
            if (!sent.ok) return;
            saySaved(`“${title}” is kept.`);
            setTitle("");
            onKept();
          }}
        >
          Keep
        </Button>
      </span>
    </Field>
  );
}
