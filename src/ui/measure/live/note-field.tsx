"use client";

import { useRef, useState } from "react";
import { Button, Form, Input } from "../../controls/form";
import { send } from "../../controls/send";
import { sayFailed } from "../../controls/toast";
import { useKey } from "../../controls/use-key";

/** Notes something at this moment of the run, by the key N: "fan on", "case 48 °C". */
export function NoteField({ id }: { id: string }) {
  const [text, setText] = useState<string | null>(null);
  const opener = useRef<HTMLButtonElement>(null);
  /** When the tester began to note: the moment that is meant. */
  const since = useRef(0);
  const begin = () => {
    since.current = performance.now();
    setText("");
  };
  const end = () => {
    setText(null);
    requestAnimationFrame(() => opener.current?.focus());
  };
  useKey("n", begin);
  if (text === null) {
    return (
      <Button ref={opener} onClick={begin}>
        Note (N)
      </Button>
    );
  }
  return (
    <Form
      className="flex items-center gap-2"
      onSend={async () => {
        if (text.trim() === "") return end();
        const agoMs = Math.min(600_000, performance.now() - since.current);
        const sent = await send("POST", `/api/measurements/${id}/note`, { text, agoMs });
        if (!sent.ok) return sayFailed(sent.error.message);
        end();
      }}
    >
      <Input
        autoFocus
        name="note"
        aria-label="Note at this moment"
        placeholder="fan on; case 48 °C"
        className="!w-56"
        value={text}
        onChange={(event) => setText(event.target.value)}
        onKeyDown={(event) => event.key === "Escape" && end()}
      />
      <Button type="submit">Keep the note</Button>
    </Form>
  );
}
