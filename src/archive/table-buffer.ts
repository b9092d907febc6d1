import {
  BIGINT,
  BOOLEAN,
  DOUBLE,
  DuckDBDataChunk,
  DuckDBTimestampValue,
  INTEGER,
  TIMESTAMP,
  VARCHAR,
  type DuckDBAppender,
  type DuckDBConnection,
  type DuckDBType,
  type DuckDBValue,
} from "@duckdb/node-api";
import type { ColumnType } from "@/core/archive/column";
import { columnsOf, type Place, type Row, type TableName } from "@/core/archive/tables";

/** Rows that go into the engine at once: its own size of a chunk. */
const CHUNK = 2048;

const TYPES: Record<ColumnType, DuckDBType> = {
  VARCHAR,
  "DOUBLE PRECISION": DOUBLE,
  BIGINT,
  INTEGER,
  BOOLEAN,
  TIMESTAMP,
};

/** A value as the engine takes it. */
const CONVERT: Record<ColumnType, (value: never) => DuckDBValue> = {
  VARCHAR: (value: string) => value,
  "DOUBLE PRECISION": (value: number) => value,
  BIGINT: (value: number) => BigInt(Math.round(value)),
  INTEGER: (value: number) => value,
  BOOLEAN: (value: boolean) => value,
  TIMESTAMP: (value: string) => new DuckDBTimestampValue(BigInt(Date.parse(value)) * 1000n),
};

/** Rows of one table on their way into the engine. */
export class TableBuffer<T extends TableName> {
  /** Rows that the engine holds of it. */
  rows = 0;
  private held: DuckDBValue[][];
  private readonly columns: [name: string, type: ColumnType][];
  private readonly types: DuckDBType[];

  private constructor(
    table: T,
    private readonly appender: DuckDBAppender,
  ) {
    this.columns = columnsOf(table);
    this.types = this.columns.map(([, type]) => TYPES[type]);
    this.held = this.columns.map(() => []);
  }

  /** Makes the table in the engine. */
  static async make<T extends TableName>(
    connection: DuckDBConnection,
    table: T,
  ): Promise<TableBuffer<T>> {
    const columns = columnsOf(table).map(([name, type]) => `"${name}" ${type}`);
    await connection.run(`CREATE TABLE "${table}" (${columns.join(", ")})`);
    return new TableBuffer(table, await connection.createAppender(table));
  }

  add(row: Row<T>, place: Place): void {
    const values = { ...row, ...place } as Record<string, unknown>;
    this.columns.forEach(([name, type], i) => {
      const value = values[name];
      this.held[i]!.push(value === null ? null : CONVERT[type](value as never));
    });
    this.rows++;
    if (this.held[0]!.length === CHUNK) this.pass();
  }

  /** Passes on what is held. */
  flush(): void {
    if (this.held[0]!.length > 0) this.pass();
    this.appender.flushSync();
  }

  close(): void {
    this.appender.closeSync();
  }

  private pass(): void {
    const chunk = DuckDBDataChunk.create(this.types, this.held[0]!.length);
    chunk.setColumns(this.held);
    this.appender.appendDataChunk(chunk);
    this.held = this.columns.map(() => []);
  }
}
