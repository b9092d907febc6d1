import type { Column, ColumnType, RowOf } from "./column";
import { findings, verdicts } from "./tables/conclusions";
import { claims, parts, rigParts, rigs, studies } from "./tables/gear";
import {
  conditions,
  events,
  latencyHistograms,
  marks,
  readings,
  runs,
  samples,
  steps,
} from "./tables/runs";

/**
 * The tables of an archive, in the order in which they are written: a run's row comes last, so that a run
 * that is there is there with everything.
 */
export const TABLES = {
  parts,
  claims,
  rigs,
  rig_parts: rigParts,
  studies,
  conditions,
  steps,
  samples,
  latency_histograms: latencyHistograms,
  events,
  readings,
  findings,
  verdicts,
  marks,
  runs,
};

export type TableName = keyof typeof TABLES;
export type Row<T extends TableName> = RowOf<(typeof TABLES)[T]["columns"]>;

export const TABLE_NAMES = Object.keys(TABLES) as TableName[];

/** The layout's version: it changes when a column changes its meaning or goes, not when one is added. */
export const ARCHIVE_VERSION = 1;

/** The folder that a row lies in: year and month in which it came about (UTC), and on which host. */
export interface Place {
  year: number;
  month: number;
  host: string;
}

/** The columns of the folders, which the files themselves do not hold. */
export const PLACE_COLUMNS = { year: "INTEGER", month: "INTEGER", host: "VARCHAR" } as const;

/** Columns of a table and those of its folders, by name, in the order of its rows. */
export const columnsOf = (table: TableName): [name: string, type: ColumnType][] => [
  ...Object.entries<Column>(TABLES[table].columns).map(([name, { type }]): [string, ColumnType] => [
    name,
    type,
  ]),
  ...(Object.entries(PLACE_COLUMNS) as [string, ColumnType][]),
];

/** @param at ISO 8601 @param host empty where it is not known */
export function placeOf(at: string, host: string): Place {
  const date = new Date(at);
  return {
    year: date.getUTCFullYear(),
    month: date.getUTCMonth() + 1,
    host: host.trim() || "unknown",
  };
}

/** Takes rows, each with its folder. */
export type Put = <T extends TableName>(table: T, place: Place, row: Row<T>) => void;
