import type { DuckDBConnection } from "@duckdb/node-api";
import { columnsOf, PLACE_COLUMNS, TABLE_NAMES, type TableName } from "@/core/archive/tables";
import { ArchiveProblem } from "./archive-problem";
import { quotedList } from "./duck";
import { checkArchive, filesOf } from "./folder";

/**
 * Declares the tables of archives to the engine, each as a view over all of its files. What several archives
 * hold alike is there once.
 *
 * @param tables those that are wanted
 * @throws ArchiveProblem where a folder is no archive, or a file of it cannot be read
 */
export async function declareTables(
  connection: DuckDBConnection,
  archives: readonly string[],
  tables: readonly TableName[] = TABLE_NAMES,
): Promise<void> {
  archives.forEach(checkArchive);
  for (const table of tables) {
    const files = archives.flatMap((archive) => filesOf(archive, table));
    const distinct = archives.length > 1 ? "DISTINCT " : "";
    try {
      const select = files.length > 0 ? await overFiles(connection, table, files) : none(table);
      await connection.run(`CREATE VIEW "${table}" AS SELECT ${distinct}${select}`);
    } catch (error) {
      throw new ArchiveProblem(
        `The table ${table} of ${archives.join(", ")} cannot be read: ${(error as Error).message.split("\n")[0]}`,
      );
    }
  }
}

/** A table that no file holds anything of. */
const none = (table: TableName): string =>
  `${columnsOf(table)
    .map(([name, type]) => `CAST(NULL AS ${type}) AS "${name}"`)
    .join(", ")} WHERE FALSE`;

/** The table's columns out of its files; empty where an older version of this program did not know them. */
async function overFiles(
  connection: DuckDBConnection,
  table: TableName,
  files: readonly string[],
): Promise<string> {
  const types = Object.entries(PLACE_COLUMNS).map(([name, type]) => `'${name}': ${type}`);
  const source = `read_parquet(${quotedList(files)}, union_by_name = true, hive_partitioning = true, hive_types = {${types.join(", ")}})`;
  const described = await connection.runAndReadAll(`DESCRIBE SELECT * FROM ${source}`);
  const there = new Set(described.getRowsJson().map(([name]) => String(name)));
  const columns = columnsOf(table).map(([name, type]) =>
    there.has(name)
      ? `CAST("${name}" AS ${type}) AS "${name}"`
      : `CAST(NULL AS ${type}) AS "${name}"`,
  );
  return `${columns.join(", ")} FROM ${source}`;
}
