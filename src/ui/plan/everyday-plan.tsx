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

/** Begins the everyday plan by one press: on one rig, or on all rigs one after another. */
export function EverydayPlan({
  studyId,
  rig,
  all,
  target,
  facts,
  reserve,
  stated,
  onBegun,
  onTrouble,
}: {
  studyId: string;
  rig: Rig | undefined;
  /** Every rig of the study. */
  all: readonly Rig[];
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
  async function begin(rigs: readonly Rig[]) {
    setBusy(true);
    const sent = await send("POST", `/api/studies/${studyId}/plans`, {
      title: "Everyday plan",
      rigs: rigs.map(({ id }) => ({ rigId: id, target })),
      drills: EVERYDAY_DRILLS,
      repeats: REPEATS,
      reserve,
      stated,
    });
    setBusy(false);
    if (sent.ok) onBegun();
    else onTrouble(sent.error.message);
  }
  const unset = target.trim() === "";
  const once = REPEATS * secondsOf(facts);
  const what = "Haul and Scatter, reading and writing, three repeats each";
  const why = unset ? "Choose first where to measure." : what;
  return (
    <>
      <Tip text={why}>
        <Button aria-disabled={unset} disabled={busy} onClick={() => !unset && void begin([rig])}>
          Everyday plan, about {formatAbout(once)}
        </Button>
      </Tip>
      {all.length > 1 && (
        <Tip text={unset ? why : `${what}; says when to change the parts`}>
          <Button aria-disabled={unset} disabled={busy} onClick={() => !unset && void begin(all)}>
            All {all.length} rigs, about {formatAbout(all.length * once)}
          </Button>
        </Tip>
      )}
    </>
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
