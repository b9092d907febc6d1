import { blob, index, integer, primaryKey, real, sqliteTable, text } from "drizzle-orm/sqlite-core";
import type { StudyBrief } from "@/core/answer/study-brief";
import type { Series } from "@/core/drift/series";
import type { BestReading } from "@/core/study/best-reading";
import type { PhotoRef } from "@/core/chain/photo-ref";
import type { PartDraft } from "@/core/chain/part";
import type { Rig, RigDraft } from "@/core/chain/rig";
import type { StudySimulation } from "@/core/exchange/study-file";
import type { MachineCheck } from "@/core/machine/check";
import type { NetworkFigures } from "@/core/network/figures";
import type { HostFacts } from "@/core/host/host-facts";
import type { Demand } from "@/core/study/demand";
import type { Reference } from "@/core/study/reference";
import type { RemovedKind } from "@/core/study/removed";
import type { Suite } from "@/core/study/suite";
import type { Drill } from "@/core/drills/drill";
import type { BriefResult } from "@/core/run/brief";
import type { RunStatus } from "@/core/drills/request";
import type {
  Conditions,
  ErrorCount,
  Reading,
  RunEvent,
  RunResult,
  StepResult,
} from "@/core/run/result";
import type { Correction } from "@/core/run/mark";
import type { Stated } from "@/core/run/stated";
import type { Origin } from "@/core/study/measurement";
import type { TransportId } from "@/core/ledger/mode";
import type { RateUnit } from "@/core/units/rate";
import type { Plan, PlanState, PlanStep } from "@/core/plan/plan";

/** Of the records in which runs are kept in brief; the first were rows of numbers. */
export const BRIEF_VERSION = 2;
export type StoredBrief = BriefResult & { version: typeof BRIEF_VERSION };

/** Every physical part, each item by itself. */
export const parts = sqliteTable("parts", {
  id: text().primaryKey(),
  kind: text().notNull(),
  name: text().notNull(),
  spec: text({ mode: "json" }).$type<PartDraft>().notNull(),
  createdAt: text().notNull(),
  retiredAt: text(),
  /** One of the sample data’s: offered for none of the tester’s own rigs. */
  demo: integer({ mode: "boolean" }).notNull().default(false),
});

export const studies = sqliteTable("studies", {
  id: text().primaryKey(),
  title: text().notNull(),
  tolerance: real().notNull(),
  smallestEffect: real().notNull(),
  simulated: integer({ mode: "boolean" }).notNull().default(false),
  /** What the drive is wanted for, to see whether a difference matters. */
  demands: text({ mode: "json" }).$type<Demand[]>().notNull().default([]),
  /** Rates that no rig of it gave, to be seen beside its rigs. */
  references: text("reference_rates", { mode: "json" }).$type<Reference[]>().notNull().default([]),
  /** What other programs' suites showed through its rigs. */
  suites: text({ mode: "json" }).$type<Suite[]>().notNull().default([]),
  notes: text().notNull().default(""),
  /** What the simulated bench takes its parts for. */
  simulation: text({ mode: "json" }).$type<StudySimulation>(),
  /** How it is reported, where the tester chose something. */
  report: text({ mode: "json" }).$type<unknown>(),
  tags: text({ mode: "json" }).$type<string[]>().notNull().default([]),
  /** Since when it is set aside: out of the list of studies. */
  asideSince: text(),
  createdAt: text().notNull(),
  /** Since when it is removed: it can be put back until it is swept away. */
  removedAt: text(),
});

/**
 * Reports that were issued, each as it was, with the study's file that it rests on: nothing that happens
 * to a study changes them, nor takes them away.
 */
export const issues = sqliteTable(
  "issues",
  {
    studyId: text().notNull(),
    number: integer().notNull(),
    title: text().notNull(),
    issuedAt: text().notNull(),
    /** The page, and the archive with everything by itself. */
    page: blob({ mode: "buffer" }).notNull(),
    archive: blob({ mode: "buffer" }).notNull(),
    /** What the next one is held against. */
    stand: text({ mode: "json" }).$type<unknown>().notNull(),
  },
  (table) => [primaryKey({ columns: [table.studyId, table.number] })],
);

export type RigSetup = Omit<RigDraft, "name" | "partIds" | "transport" | "fileSystem">;

export const rigs = sqliteTable("rigs", {
  id: text().primaryKey(),
  name: text().notNull(),
  partIds: text({ mode: "json" }).$type<string[]>().notNull(),
  transport: text().$type<TransportId>(),
  fileSystem: text().notNull().default(""),
  /** Everything else that a rig says of itself; what an older version did not know is left out. */
  setup: text({ mode: "json" }).$type<Partial<RigSetup>>().notNull().default({}),
  createdAt: text().notNull(),
});

/** Pictures of the bench for reports, each once, by a digest of what it holds. */
export const photos = sqliteTable("photos", {
  id: text().primaryKey(),
  type: text().$type<"image/png" | "image/jpeg">().notNull(),
  width: integer().notNull(),
  height: integer().notNull(),
  bytes: blob({ mode: "buffer" }).notNull(),
});

/** Link modes that the tester described; the identifier holds the whole description. */
export const ownModes = sqliteTable("own_modes", {
  id: text().primaryKey(),
  createdAt: text().notNull(),
});

/** Machines that runs can be made on, reached by SSH, as they were found. */
export const hosts = sqliteTable("hosts", {
  id: text().primaryKey(),
  /** As the SSH client knows it. */
  name: text().notNull().unique(),
  createdAt: text().notNull(),
  lookedAt: text().notNull(),
  facts: text({ mode: "json" }).$type<HostFacts>(),
  trouble: text({ mode: "json" }).$type<{ code: string; reason: string }>(),
});

/** What networks between two machines carried by themselves. */
export const networks = sqliteTable(
  "networks",
  {
    from: text().notNull(),
    to: text().notNull(),
    at: text().notNull(),
    figures: text({ mode: "json" }).$type<NetworkFigures>().notNull(),
  },
  (table) => [primaryKey({ columns: [table.from, table.to, table.at] })],
);

/** What machines were shown to move in their own memory. */
export const machineChecks = sqliteTable(
  "machine_checks",
  {
    machine: text().notNull(),
    at: text().notNull(),
    check: text({ mode: "json" }).$type<MachineCheck>().notNull(),
  },
  (table) => [primaryKey({ columns: [table.machine, table.at] })],
);

/** Which rigs a study compares, in the order of their letters. */
export const studyRigs = sqliteTable(
  "study_rigs",
  {
    studyId: text()
      .notNull()
      .references(() => studies.id, { onDelete: "cascade" }),
    rigId: text()
      .notNull()
      .references(() => rigs.id),
    position: integer().notNull(),
  },
  (table) => [primaryKey({ columns: [table.studyId, table.rigId] })],
);

/** One order to measure: a drill on a rig with its repeats, each of which is a run. */
export const measurements = sqliteTable("measurements", {
  id: text().primaryKey(),
  studyId: text()
    .notNull()
    .references(() => studies.id, { onDelete: "cascade" }),
  rigId: text()
    .notNull()
    .references(() => rigs.id),
  drill: text({ mode: "json" }).$type<Drill>().notNull(),
  target: text().notNull(),
  status: text().$type<RunStatus>().notNull(),
  /** Why it was refused, failed or was interrupted. */
  reason: text(),
  /** The rig as it was when measured, so that later changes of a part change no old run. */
  rig: text({ mode: "json" }).$type<Rig>().notNull(),
  conditions: text({ mode: "json" }).$type<Conditions>(),
  /** A run to warm up, which shows nothing and counts for nothing. */
  warmUp: integer({ mode: "boolean" }).notNull().default(false),
  origin: text().$type<Origin>().notNull().default("measured"),
  /** What the tester said of the bench, which no system tells. */
  stated: text({ mode: "json" }).$type<Stated>(),
  createdAt: text().notNull(),
  endedAt: text(),
  /** Since when it is removed: it can be put back until it is swept away. */
  removedAt: text(),
});

/** Plans: runs in an order, and how far they have come. */
export const plans = sqliteTable(
  "plans",
  {
    id: text().primaryKey(),
    studyId: text()
      .notNull()
      .references(() => studies.id, { onDelete: "cascade" }),
    plan: text({ mode: "json" }).$type<Plan>().notNull(),
    steps: text({ mode: "json" }).$type<PlanStep[]>().notNull(),
    state: text({ mode: "json" }).$type<PlanState>().notNull(),
    /** How the order was chosen, in words. */
    words: text().notNull(),
    /** The rig that is put together now, as far as the plan knows. */
    pluggedRigs: text({ mode: "json" }).$type<string[]>().notNull().default([]),
    createdAt: text().notNull(),
  },
  (table) => [index("plans_by_study").on(table.studyId)],
);

export const runs = sqliteTable(
  "runs",
  {
    id: text().primaryKey(),
    measurementId: text()
      .notNull()
      .references(() => measurements.id, { onDelete: "cascade" }),
    repeat: integer().notNull(),
    status: text().$type<RunStatus>().notNull(),
    startedAt: text().notNull(),
    endedAt: text(),
    result: text({ mode: "json" }).$type<RunResult>(),
    /** The same without what only the run's own page needs: a study with thousands of runs reads this. */
    brief: text({ mode: "json" }).$type<StoredBrief>(),
    /** What the tester corrected of what was found in its trace. */
    corrections: text({ mode: "json" }).$type<Correction[]>().notNull().default([]),
    /** Why it counts for nothing, where the tester left it out. */
    leftOut: text(),
    /** Pictures of it, kept among those of the bench. */
    photos: text({ mode: "json" }).$type<PhotoRef[]>().notNull().default([]),
    /** Error counters of the drive and of the way to it, before and after. */
    errors: text({ mode: "json" }).$type<ErrorCount[]>().notNull().default([]),
  },
  (table) => [
    index("runs_by_measurement").on(table.measurementId),
    // Holds all that a study needs of its runs: the table's rows are long, and are not touched.
    index("runs_brief").on(
      ...([table.measurementId, table.repeat, table.id, table.status, table.brief] as const),
      ...([table.errors, table.corrections, table.leftOut] as const),
    ),
  ],
);

/** The trace of a run, stored as it arrives, a second at a time (core/trace/pack.ts). */
export const traces = sqliteTable(
  "traces",
  {
    runId: text()
      .notNull()
      .references(() => runs.id, { onDelete: "cascade" }),
    seq: integer().notNull(),
    packed: blob({ mode: "buffer" }).notNull(),
  },
  (table) => [primaryKey({ columns: [table.runId, table.seq] })],
);

/** What each step of a run gave, stored as it ends. */
export const steps = sqliteTable(
  "steps",
  {
    runId: text()
      .notNull()
      .references(() => runs.id, { onDelete: "cascade" }),
    step: integer().notNull(),
    result: text({ mode: "json" }).$type<StepResult>().notNull(),
  },
  (table) => [primaryKey({ columns: [table.runId, table.step] })],
);

/** What happened during a run, and what the system showed meanwhile. */
export const moments = sqliteTable(
  "moments",
  {
    id: integer().primaryKey({ autoIncrement: true }),
    runId: text()
      .notNull()
      .references(() => runs.id, { onDelete: "cascade" }),
    event: text({ mode: "json" }).$type<RunEvent>(),
    reading: text({ mode: "json" }).$type<Reading>(),
  },
  (table) => [index("moments_by_run").on(table.runId)],
);

/** Drills that the tester has put together and named. */
export const ownDrills = sqliteTable("own_drills", {
  id: text().primaryKey(),
  drill: text({ mode: "json" }).$type<Drill>().notNull(),
  createdAt: text().notNull(),
});

/** What the tester has set for the whole bench, by name. */
export const settings = sqliteTable("settings", {
  name: text().primaryKey(),
  value: text({ mode: "json" }).$type<unknown>().notNull(),
});

/**
 * How often anything was written that conclusions rest on: of each study, by its id, and of what all studies
 * share (count-writes.ts).
 */
export const writes = sqliteTable("writes", {
  of: text().primaryKey(),
  count: integer().notNull(),
});

/** Studies in brief, each as it was worked out last. */
export const studyBriefs = sqliteTable(
  "study_briefs",
  {
    studyId: text()
      .notNull()
      .references(() => studies.id, { onDelete: "cascade" }),
    unit: text().$type<RateUnit>().notNull(),
    /** Of what it rests on, and of the program that worked it out. */
    version: text().notNull(),
    brief: text({ mode: "json" }).$type<StudyBrief>().notNull(),
  },
  (table) => [primaryKey({ columns: [table.studyId, table.unit] })],
);

/** What each study tells of its parts, as it was worked out last. */
export const studyParts = sqliteTable("study_parts", {
  studyId: text()
    .primaryKey()
    .references(() => studies.id, { onDelete: "cascade" }),
  /** Of the study's runs, and of the program that worked it out. */
  version: text().notNull(),
  series: text({ mode: "json" }).$type<Series[]>().notNull(),
  best: text({ mode: "json" }).$type<Record<string, BestReading>>().notNull(),
});

/** What was removed lately, each with what it takes to put it back. */
export const removed = sqliteTable(
  "removed",
  {
    id: text().primaryKey(),
    kind: text().$type<RemovedKind>().notNull(),
    /** Which one of its kind. */
    of: text().notNull(),
    /** The study that it was removed from; null for what stands in none. */
    studyId: text(),
    title: text().notNull(),
    /** What it was, in a line. */
    details: text().notNull(),
    kept: text({ mode: "json" }).$type<unknown>(),
    at: text().notNull(),
  },
  (table) => [index("removed_of").on(table.kind, table.of)],
);

/** Traces as versions up to 0.1 kept them, a row a sample; they are packed when the database is opened. */
export const samples = sqliteTable(
  "samples",
  {
    runId: text()
      .notNull()
      .references(() => runs.id, { onDelete: "cascade" }),
    ms: real().notNull(),
    bytes: integer().notNull(),
  },
  (table) => [primaryKey({ columns: [table.runId, table.ms] })],
);
