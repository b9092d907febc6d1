import { summaryOf, titleOf, type Drill } from "@/core/drills/drill";
import type { KnownHost } from "@/core/host/known-host";
import { findMode } from "@/core/ledger/catalogue";
import type { Correction } from "@/core/run/mark";
import type { Demand } from "@/core/study/demand";
import type { Reference } from "@/core/study/reference";
import type { Suite } from "@/core/study/suite";
import { counted } from "@/core/units/counted";
import { formatDuration, formatNumber } from "@/core/units/number";
import type { Told } from "./note";

/** How what stands on lists is told once it is removed from them. */

const named = {
  nameOf: ({ name }: { name: string }) => name,
  titleOf: ({ name }: { name: string }) => name,
};

export const toldDemands = (studyId: string): Told<Demand> => ({
  ...named,
  kind: "demand",
  studyId,
  detailsOf: ({ streams, copies }) =>
    [
      ...(streams.length > 0 ? [counted(streams.length, "stream")] : []),
      ...(copies.length > 0 ? [counted(copies.length, "copy", "copies")] : []),
    ].join(", "),
});

export const toldReferences = (studyId: string): Told<Reference> => ({
  ...named,
  kind: "reference",
  studyId,
  detailsOf: ({ mbps }) => `${formatNumber(mbps)} MB/s`,
});

export const toldSuites = (studyId: string): Told<Suite> => ({
  ...named,
  kind: "suite",
  studyId,
  detailsOf: ({ tests, rigIds }) =>
    `${counted(tests.length, "test")} through ${counted(rigIds.length, "rig")}`,
});

export const toldCorrections = (studyId: string, runId: string): Told<Correction> => ({
  kind: "correction",
  studyId,
  within: runId,
  nameOf: ({ do: what, id }) => `${what} ${id}`,
  titleOf: (one) => CORRECTED[one.do],
  detailsOf: (one) =>
    [
      ...("name" in one ? [one.name] : []),
      ...("ms" in one ? [`at ${formatDuration(one.ms)}`] : []),
    ].join(", "),
});

const CORRECTED: Record<Correction["do"], string> = {
  move: "A mark was moved",
  rename: "A mark was named otherwise",
  strike: "A mark was struck out",
  add: "A mark was added",
};

export const TOLD_DRILLS: Told<Drill> = {
  kind: "drill",
  studyId: null,
  nameOf: titleOf,
  titleOf,
  detailsOf: summaryOf,
};

/** Modes are known by identifiers that describe them. */
export const TOLD_MODES: Told<string> = {
  kind: "mode",
  studyId: null,
  nameOf: (id) => id,
  titleOf: (id) => findMode(id)?.name ?? id,
  detailsOf: (id) => findMode(id)?.formal ?? "",
};

export const TOLD_HOSTS: Told<KnownHost> = {
  ...named,
  kind: "host",
  studyId: null,
  detailsOf: ({ facts }) =>
    facts ? `${facts.system}, ${facts.processor ?? facts.architecture}` : "",
};
