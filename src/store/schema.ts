import { index, integer, primaryKey, real, sqliteTable, text } from "drizzle-orm/sqlite-core";
import type { PartDraft } from "@/core/chain/part";
import type { Rig, RigDraft } from "@/core/chain/rig";
import type { Demand } from "@/core/demand/demand";
import type { Drill } from "@/core/drills/drill";
import type { RunStatus } from "@/core/drills/request";
import type { Conditions, RunResult } from "@/core/drills/result";
import type { TransportId } from "@/core/ledger/mode";

/** Every physical part, each item by itself. */
export const parts = sqliteTable("parts", {
  id: text().primaryKey(),
  kind: text().notNull(),
  name: text().notNull(),
  spec: text({ mode: "json" }).$type<PartDraft>().notNull(),
  createdAt: text().notNull(),
  retiredAt: text(),
});

export const studies = sqliteTable("studies", {
  id: text().primaryKey(),
  title: text().notNull(),
  tolerance: real().notNull(),
  smallestEffect: real().notNull(),
  simulated: integer({ mode: "boolean" }).notNull().default(false),
  /** What the drive is wanted for, to see whether a difference matters. */
  demands: text({ mode: "json" }).$type<Demand[]>().notNull().default([]),
  createdAt: text().notNull(),
});

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

/** Link modes that the tester described; the identifier holds the whole description. */
export const ownModes = sqliteTable("own_modes", {
  id: text().primaryKey(),
  createdAt: text().notNull(),
});

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
  createdAt: text().notNull(),
  endedAt: text(),
});

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
  },
  (table) => [index("runs_by_measurement").on(table.measurementId)],
);

/** The trace of a run, stored as it arrives. */
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
