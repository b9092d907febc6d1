import type { Claim } from "../../chain/claim";
import type { Part } from "../../chain/part";
import type { Rig } from "../../chain/rig";
import { blankStep } from "../../run/step";
import { observationsOf, type BriefMeasurement } from "../../study/measurement";
import { around, measured } from "../../testing/measured";
import { enclosure, part, PCIE, USB_20G } from "../../testing/rigs";
import type { DropIn } from "../bursts";
import { judgeAll, partsOfRigs } from "../judged";

/** Short ways to claim, measure and judge, for tests only. */

export const NOTHING: DropIn = () => null;
export const peak = (mbps: number): Claim => ({ kind: "peak", direction: "read", mbps });
export const writing = (kind: "peak" | "sustained", mbps: number): Claim => ({
  kind,
  direction: "write",
  mbps,
});
export const box = (name: string, claims: Claim[], model = "") => ({
  ...enclosure(claims, name),
  model,
});
/** An enclosure that lets more through than all claims are about. */
export const wide = part("enclosure", "wide", { up: USB_20G, down: PCIE });
export const judge = (
  rigs: Rig[],
  runs: BriefMeasurement[],
  dropIn = NOTHING,
  shelf: Part[] = [],
) =>
  judgeAll(partsOfRigs(rigs), {
    rigs,
    observations: observationsOf(runs),
    tolerance: 0.05,
    shelf,
    dropIn,
  });
/** A long run with what it gave at first and in the end. */
export const fill = (through: Rig, burst: number, sustained: number) =>
  measured(through, around(sustained), {
    direction: "write",
    drill: { name: "long-fill" },
    result: {
      steps: [{ ...blankStep("flow", {}), burstMBps: burst, sustainedMBps: sustained }],
    },
  });
export const hauled = (through: Rig, mbps: number) =>
  measured(through, around(mbps), { direction: "write" });
