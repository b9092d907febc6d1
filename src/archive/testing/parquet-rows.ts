import { asyncBufferFromFile, parquetReadObjects } from "hyparquet";
import { compressors } from "hyparquet-compressors";
import type { TableName } from "@/core/archive/tables";
import { filesOf } from "../folder";

/** All rows of a table of an archive, as a program reads them that is not the one that wrote them. */
export async function parquetRows(
  archive: string,
  table: TableName,
): Promise<Record<string, unknown>[]> {
  const rows: Record<string, unknown>[] = [];
  for (const name of filesOf(archive, table)) {
    const file = await asyncBufferFromFile(name);
    for (const row of await parquetReadObjects({ file, compressors })) rows.push(row);
  }
  return rows;
}
