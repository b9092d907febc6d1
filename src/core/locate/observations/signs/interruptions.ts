import { DOING } from "../../../units/rate";
import type { Observation } from "../observation";
import { causeKey, signature, type Sign, type Signature } from "./sign";

/** Errors are tried again, and while that goes on nothing moves; limits and slow links are steady. */
const CHANCES: Record<string, number> = { fault: 0.5, "drive fault": 0.35, pairing: 0.2, bay: 0.3 };

/** That the flow of runs stood still or dipped. Drives that write pause by themselves to make room. */
export const INTERRUPTED: Record<"read" | "write", Sign> = {
  read: { chance: chanceOf, otherwise: 0.06 },
  write: { chance: chanceOf, otherwise: 0.2 },
};

function chanceOf(...[site, kind]: Parameters<Sign["chance"]>): number | null {
  return CHANCES[causeKey(site, kind)] ?? CHANCES[kind] ?? null;
}

/** What short interruptions in most of a slow rig's runs say. Runs without say nothing: many faults are steady. */
export function interruptions({
  rig,
  drill,
  results = [],
  measurementIds,
}: Observation): Signature[] {
  const told = results.flatMap(({ first }) => first?.interrupted ?? []);
  const count = told.filter(Boolean).length;
  const { direction } = drill;
  if (direction === "mixed" || count <= told.length / 2) return [];
  const runs = told.length === 1 ? "The run" : `${count} of the ${told.length} runs`;
  const text = `${runs} of ${rig.name || "the rig"} stood still or dipped for a moment ${DOING[direction]}, as where something is tried again.`;
  return [signature(INTERRUPTED[direction], rig, true, { text, measurementIds })];
}
