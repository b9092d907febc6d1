import type { ColumnType } from "./column";
import { columnsOf, PLACE_COLUMNS, TABLE_NAMES, type TableName } from "./tables";

/** Distributed engines of SQL that an archive's tables can be declared to. */
export const ENGINES = ["spark", "trino"] as const;
export type EngineName = (typeof ENGINES)[number];

/**
 * How each calls the types. Moments stand in the files without a time zone, to the microsecond.
 *
 * Sources: Spark SQL reference, Data Types; Trino documentation, Data types and Hive connector.
 */
const TYPES: Record<EngineName, Record<ColumnType, string>> = {
  spark: {
    VARCHAR: "STRING",
    "DOUBLE PRECISION": "DOUBLE",
    BIGINT: "BIGINT",
    INTEGER: "INT",
    BOOLEAN: "BOOLEAN",
    TIMESTAMP: "TIMESTAMP_NTZ",
  },
  trino: {
    VARCHAR: "VARCHAR",
    "DOUBLE PRECISION": "DOUBLE",
    BIGINT: "BIGINT",
    INTEGER: "INTEGER",
    BOOLEAN: "BOOLEAN",
    TIMESTAMP: "TIMESTAMP",
  },
};

/**
 * The statements that declare all tables of an archive to an engine: the only thing that differs from one
 * engine to the next.
 *
 * @param location of the archive, as the engine reaches it: a path or an address of an object store
 */
export const declarations = (engine: EngineName, location: string): string =>
  TABLE_NAMES.map((table) => (engine === "spark" ? spark : trino)(table, location)).join("\n\n");

const declared = (engine: EngineName, table: TableName): string =>
  columnsOf(table)
    .map(([name, type]) => `  ${name} ${TYPES[engine][type]}`)
    .join(",\n");

const places = Object.keys(PLACE_COLUMNS);
const quoted = (text: string) => `'${text.replaceAll("'", "''")}'`;

const spark = (table: TableName, location: string) => `CREATE TABLE ${table} (
${declared("spark", table)}
) USING parquet
PARTITIONED BY (${places.join(", ")})
LOCATION ${quoted(`${location}/${table}`)};
MSCK REPAIR TABLE ${table};`;

const trino = (table: TableName, location: string) => `CREATE TABLE ${table} (
${declared("trino", table)}
) WITH (
  format = 'PARQUET',
  external_location = ${quoted(`${location}/${table}`)},
  partitioned_by = ARRAY[${places.map(quoted).join(", ")}]
);
CALL system.sync_partition_metadata(CURRENT_SCHEMA, '${table}', 'ADD');`;
