"use client";

import { useState } from "react";
import type { Rig } from "@/core/chain/rig";
import { defineFrom, type Drill } from "@/core/drills/drill";
import type { TargetFacts } from "@/core/drills/parameter";
import { usualSeconds } from "@/core/plan/estimate";
import { EVERYDAY_DRILLS } from "@/core/plan/everyday";
import { wearOf, wearWords } from "@/core/plan/wear";
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
  const drills = drillsFor(facts);
  const once = REPEATS * drills.reduce((sum, drill) => sum + usualSeconds(drill), 0);
  const wear = (rigs: readonly Rig[]) => wearWords(wearOf(rigs, drills, REPEATS));
  const what = "Haul and Scatter, reading and writing, three repeats each";
  const why = (rigs: readonly Rig[]) =>
    unset ? "Choose first where to measure." : `${what}; ${wear(rigs)}`;
  return (
    <>
      <Tip text={why([rig])}>
        <Button disabled={unset || busy} onClick={() => void begin([rig])}>
          Everyday plan, about {formatAbout(once)}
        </Button>
      </Tip>
      {all.length > 1 && (
        <Tip text={`${why(all)}${unset ? "" : "; says when to change the parts"}`}>
          <Button disabled={unset || busy} onClick={() => void begin(all)}>
            All {all.length} rigs, about {formatAbout(all.length * once)}
          </Button>
        </Tip>
      )}
    </>
  );
}

/** The drills of the plan as they are done here; with what is usual where the target gives no room for them. */
const drillsFor = (facts: TargetFacts | null): Drill[] =>
  EVERYDAY_DRILLS.map((asked) => {
    try {
      return defineFrom(asked, facts);
    } catch {
      return defineFrom(asked, null);
    }
  });
