"use client";

import { useRouter } from "next/navigation";
import { useState } from "react";
import { Button, Field, Form, Trouble } from "../controls/form";
import { BOX } from "../controls/look";
import { send } from "../controls/send";
import { saySaved } from "../controls/toast";

/** What the tester notes beside a study; it goes out with the study's file. */
export function StudyNotes({ studyId, notes }: { studyId: string; notes: string }) {
  const router = useRouter();
  const [text, setText] = useState(notes);
  const [trouble, setTrouble] = useState<string | null>(null);
  /** Whether the tester was told that somebody changed them meanwhile, and writes over that. */
  const [over, setOver] = useState(false);
  return (
    <Form
      onSend={async () => {
        const sent = await send("PUT", `/api/studies/${studyId}/notes`, {
          notes: text,
          ...(over ? {} : { was: { notes } }),
        });
        setTrouble(sent.ok ? null : sent.error.message);
        setOver(!sent.ok && sent.error.code === "changed");
        if (!sent.ok) return;
        saySaved("The notes are kept.");
        router.refresh();
      }}
    >
      <Field label="Notes">
        <textarea
          name="notes"
          rows={3}
          value={text}
          onChange={(event) => setText(event.target.value)}
          className={BOX}
        />
      </Field>
      {trouble && <Trouble>{trouble}</Trouble>}
      {text !== notes && <Button type="submit">Keep the notes</Button>}
    </Form>
  );
}
