"use client";

import { useState } from "react";
import { Button, Field, Form, Input } from "../controls/form";
import { send } from "../controls/send";
import { sayFailed } from "../controls/toast";

/** Leaves a run out of all that is concluded, with the reason; or takes it in again. */
export function LeaveOut({
  runId,
  leftOut,
  onChanged,
}: {
  runId: string;
  leftOut: string | null;
  onChanged: () => void;
}) {
  const [asking, setAsking] = useState(false);
  const [reason, setReason] = useState("");
  const [error, setError] = useState<string | undefined>();
  const say = async (next: string | null) => {
    const sent = await send("PUT", `/api/runs/${runId}/left-out`, { leftOut: next });
    if (!sent.ok) {
      if (next === null) return sayFailed(sent.error.message);
      return setError(sent.error.fields[0]?.message ?? sent.error.message);
    }
    setAsking(false);
    setReason("");
    setError(undefined);
    onChanged();
  };
  if (leftOut !== null) {
    return (
      <span className="flex items-center gap-3">
        <span>
          <b>Left out:</b> {leftOut}
        </span>
        <Button onClick={() => say(null)}>Count it again</Button>
      </span>
    );
  }
  if (!asking) return <Button onClick={() => setAsking(true)}>Leave this run out</Button>;
  return (
    <Form className="flex items-end gap-2" onSend={() => say(reason)}>
      <Field label="Why it is left out" error={error} className="w-80">
        <Input
          name="left-out"
          autoFocus
          value={reason}
          onChange={(event) => setReason(event.target.value)}
        />
      </Field>
      <Button type="submit">Leave it out</Button>
      <Button onClick={() => setAsking(false)}>Cancel</Button>
    </Form>
  );
}
