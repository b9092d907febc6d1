"use client";

import { useRouter } from "next/navigation";
import { useState } from "react";
import { Button } from "../controls/form";
import { send } from "../controls/send";
import { sayFailed, saySaved } from "../controls/toast";

/** Leaves runs out that cannot be true, with the reason; each can be taken in again on its own page. */
export function LeaveOutRuns({ runIds, reason }: { runIds: readonly string[]; reason: string }) {
  const router = useRouter();
  const [busy, setBusy] = useState(false);
  const several = runIds.length > 1;
  async function leaveOut() {
    setBusy(true);
    for (const id of runIds) {
      const sent = await send("PUT", `/api/runs/${id}/left-out`, { leftOut: reason });
      if (sent.ok) continue;
      setBusy(false);
      router.refresh();
      return sayFailed(sent.error.message);
    }
    setBusy(false);
    saySaved(several ? `${runIds.length} runs are left out.` : "The run is left out.");
    router.refresh();
  }
  return (
    <Button disabled={busy} onClick={leaveOut}>
      {busy ? "Leaving out…" : several ? `Leave ${runIds.length} runs out` : "Leave the run out"}
    </Button>
  );
}
