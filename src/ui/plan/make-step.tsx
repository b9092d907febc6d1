"use client";

import { useRouter } from "next/navigation";
import { useState } from "react";
import type { Ask } from "@/core/study/asked-rig";
import { Button } from "../controls/form";
import { send } from "../controls/send";
import { sayFailed, saySaved } from "../controls/toast";
import { useGoOn } from "../frame/go-on";

/**
 * The button that turns a step into a rig and a plan that measures it. In the sample data, whose parts
 * are on the simulated bench alone, it is done at once.
 */
export function MakeStep({
  studyId,
  ask,
  simulated,
  then,
  children,
  look = "main",
}: {
  studyId: string;
  ask: Ask;
  /** Whether the study is sample data. */
  simulated: boolean;
  /** Where to go once simulated runs are in; null stays here. Its "MADE" is the new measurement. */
  then: string | null;
  children?: React.ReactNode;
  look?: "main" | "plain" | "line";
}) {
  const router = useRouter();
  const goOn = useGoOn();
  const [busy, setBusy] = useState(false);
  async function make() {
    setBusy(true);
    const sent = await send<{
      rigId: string;
      planId: string | null;
      measurementId: string | null;
    }>("POST", `/api/studies/${studyId}/steps`, ask);
    setBusy(false);
    if (!sent.ok) return sayFailed(sent.error.message);
    const { rigId, planId, measurementId } = sent.data;
    if (measurementId) {
      saySaved("Done on the simulated bench, three repeats.");
      if (then) goOn(then.replace("MADE", measurementId));
      return router.refresh();
    }
    if (planId) return goOn(`/studies/${studyId}/measure`);
    saySaved("The rig is there. Say where it is measured.");
    const query = new URLSearchParams({
      rig: rigId,
      drill: ask.drill,
      direction: ask.direction,
    });
    goOn(`/studies/${studyId}/measure?${query}`);
  }
  const words = busy
    ? simulated
      ? "Simulating…"
      : "Making the plan…"
    : (children ?? (simulated ? "Simulate this step" : "Make rig and plan"));
  if (look === "line") {
    return (
      <button
        type="button"
        className="text-left font-semibold underline disabled:opacity-60"
        disabled={busy}
        onClick={make}
      >
        {words}
      </button>
    );
  }
  return (
    <Button main={look === "main"} disabled={busy} onClick={make}>
      {words}
    </Button>
  );
}
