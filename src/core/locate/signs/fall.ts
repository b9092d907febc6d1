import { median } from "simple-statistics";
import { IN_MB } from "../../units/number";
import { formatSize } from "../../units/size";
import type { Observation } from "../seen";
import { causeKey, signature, type Sign, type Signature } from "./sign";

/** What is fast at first, and then is not, while writing: a cache that is full. */
const WRITING: Record<string, number> = {
  "drive own-limit": 0.5,
  "drive fault": 0.15,
  temperature: 0.6,
  fill: 0.4,
};
/** No cache of a drive makes reading fall: heat does. */
const READING: Record<string, number> = {
  "drive own-limit": 0.12,
  "enclosure own-limit": 0.15,
  "drive fault": 0.2,
  temperature: 0.7,
};

/** That a run was clearly faster before a lasting drop than after it. */
export const FALLS: Record<"read" | "write", Sign> = {
  read: { chance: (site, kind) => READING[causeKey(site, kind)] ?? null, otherwise: 0.06 },
  write: { chance: (site, kind) => WRITING[causeKey(site, kind)] ?? null, otherwise: 0.06 },
};

/** Clearly faster at first. */
const CLEARLY = 1.25;

/**
 * What the course of a slow rig's own runs says. A run that shows no fall says nothing: it may have
 * been too short, or have begun after it.
 */
export function fall({ rig, drill, results = [], measurementIds }: Observation): Signature[] {
  const steps = results.flatMap(({ steps: [first] }) => first ?? []);
  const falling = steps.filter(
    ({ edgeBytes, burstMBps, sustainedMBps }) =>
      edgeBytes !== null && burstMBps > sustainedMBps * CLEARLY,
  );
  const { direction } = drill;
  if (direction === "mixed" || falling.length <= steps.length / 2) return [];
  const mid = (of: (step: (typeof steps)[number]) => number) => median(falling.map(of));
  const text = `${rig.name || "The rig"} begins at ${IN_MB.said(mid((step) => step.burstMBps))} and falls to ${IN_MB.said(mid((step) => step.sustainedMBps))} after ${formatSize(
    mid((step) => step.edgeBytes!),
    1000,
  )}.`;
  return [signature(FALLS[direction], rig, true, { text, measurementIds })];
}
