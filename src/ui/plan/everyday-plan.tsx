"use client";

import { useState } from "react";
import type { Rig } from "@/core/chain/rig";
import { defineFrom } from "@/core/drills/drill";
import type { TargetFacts } from "@/core/drills/parameter";
import { usualSeconds } from "@/core/plan/estimate";
import { EVERYDAY_DRILLS } from "@/core/plan/everyday";
import { formatAbout } from "@/core/units/number";
import { Button } from "../controls/form";
import { send } from "../controls/send";
import { Tip } from "../controls/tip";

const REPEATS = 3;

/** Begins the everyday plan on one rig, by one press. */
export function EverydayPlan({
  studyId,
  rig,
  target,
  facts,
  reserve,
  stated,
  onBegun,
  onTrouble,
}: {
  studyId: string;
  rig: Rig | undefined;
  target: string;
  facts: TargetFacts | null;
  reserve: number | null;
  /** What the tester says of the bench. */
  stated: object;
  onBegun: () => void;
  onTrouble: (message: string) => void;
}) {
  const [busy, setBusy] = useState(false);
  if (!rig) return null;
  async function begin() {
    setBusy(true);
    const sent = await send("POST", `/api/studies/${studyId}/plans`, {
      title: "Everyday plan",
      rigs: [{ rigId: rig!.id, target }],
      drills: EVERYDAY_DRILLS,
      repeats: REPEATS,
      reserve,
      stated,
    });
    setBusy(false);
    if (sent.ok) onBegun();
    else onTrouble(sent.error.message);
  }
  return (
    <Tip text="Haul and Scatter, reading and writing, three repeats each">
      <Button disabled={busy || target.trim() === ""} onClick={begin}>
        Everyday plan, about {formatAbout(REPEATS * secondsOf(facts))}
      </Button>
    </Tip>
  );
}

/** What one repeat of each drill takes. */
function secondsOf(facts: TargetFacts | null): number {
  return EVERYDAY_DRILLS.reduce((sum, asked) => {
    try {
      return sum + usualSeconds(defineFrom(asked, facts));
    } catch {
      return sum + usualSeconds(defineFrom(asked, null));
    }
  }, 0);
}
