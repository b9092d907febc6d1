/** Types of the archive's columns, as standard SQL calls them. */
export type ColumnType =
  "VARCHAR" | "DOUBLE PRECISION" | "BIGINT" | "INTEGER" | "BOOLEAN" | "TIMESTAMP";

/** A column: its type, what it holds, and whether it can be empty (NULL). */
export interface Column<T extends ColumnType = ColumnType, E extends boolean = boolean> {
  type: T;
  meaning: string;
  canBeEmpty: E;
}

const of =
  <T extends ColumnType>(type: T) =>
  (meaning: string): Column<T, false> => ({ type, meaning, canBeEmpty: false });

export const text = of("VARCHAR");
export const number = of("DOUBLE PRECISION");
/** Bytes and requests, which come to more than an INTEGER holds. */
export const count = of("BIGINT");
export const place = of("INTEGER");
export const yesNo = of("BOOLEAN");
/** UTC, to the millisecond. */
export const moment = of("TIMESTAMP");

/** The same column where it can be empty. */
export const maybe = <T extends ColumnType>({ type, meaning }: Column<T>): Column<T, true> => ({
  type,
  meaning,
  canBeEmpty: true,
});

/** What a column holds as this program has it; a moment is ISO 8601 in UTC. */
type Held<T extends ColumnType> = T extends "VARCHAR" | "TIMESTAMP"
  ? string
  : T extends "BOOLEAN"
    ? boolean
    : number;

/** A row of a table with these columns. */
export type RowOf<C extends Record<string, Column>> = {
  [K in keyof C]: C[K] extends Column<infer T, infer E>
    ? E extends true
      ? Held<T> | null
      : Held<T>
    : never;
};

/** A table of the archive: Parquet files in folders of year, month and host. */
export interface Table<C extends Record<string, Column> = Record<string, Column>> {
  /** What one row stands for. */
  row: string;
  /** The columns that tell rows apart; of a table that tells of changes, what they are changes of. */
  key: readonly (keyof C & string)[];
  /** Of a table that tells of changes, the column that differs from one change to the next. */
  version: (keyof C & string) | null;
  columns: C;
}

/** A table whose rows, once written, stand for good. */
export const table = <C extends Record<string, Column>>(
  row: string,
  key: readonly (keyof C & string)[],
  columns: C,
): Table<C> => ({ row, key, version: null, columns });

/** A table that gets a row whenever something has changed: the latest written row of a key holds. */
export const changing = <C extends Record<string, Column>>(
  row: string,
  key: readonly (keyof C & string)[],
  version: keyof C & string,
  columns: C,
): Table<C> => ({ row, key, version, columns });
