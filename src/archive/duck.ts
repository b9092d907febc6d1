import { DuckDBInstance, type DuckDBConnection } from "@duckdb/node-api";

/** What one task may use. */
export interface Limits {
  memoryBytes: number;
  threads: number;
}

export const USUAL_LIMITS: Limits = { memoryBytes: 512 * 2 ** 20, threads: 2 };

/** A database engine in this process that keeps nothing on disk. */
export interface Duck {
  connection: DuckDBConnection;
  close(): void;
}

/** Opens a database engine with nothing in it, which fetches nothing and spills nothing. */
export async function openDuck({ memoryBytes, threads }: Limits = USUAL_LIMITS): Promise<Duck> {
  const instance = await DuckDBInstance.create(":memory:", {
    memory_limit: `${Math.floor(memoryBytes / 1e6)}MB`,
    threads: String(threads),
    temp_directory: "",
    autoinstall_known_extensions: "false",
    autoload_known_extensions: "false",
  });
  const connection = await instance.connect();
  return {
    connection,
    close() {
      connection.closeSync();
      instance.closeSync();
    },
  };
}

/** Text as a literal of SQL. */
export const quoted = (text: string): string => `'${text.replaceAll("'", "''")}'`;

/** A list of texts as a literal of DuckDB's SQL. */
export const quotedList = (texts: readonly string[]): string => `[${texts.map(quoted).join(", ")}]`;
