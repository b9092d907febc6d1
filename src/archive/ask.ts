import { StatementType, type DuckDBConnection } from "@duckdb/node-api";
import { MOST_ROWS, type Answer } from "@/core/archive/answer";
import { TABLE_NAMES, type TableName } from "@/core/archive/tables";
import { ArchiveProblem } from "./archive-problem";
import { declareTables } from "./declare";
import { openDuck, quotedList, USUAL_LIMITS, type Limits } from "./duck";
import { filesOf } from "./folder";

/** What a question may use. */
export interface AskLimits extends Limits {
  /** Milliseconds. */
  ms: number;
  rows: number;
}

const USUAL: AskLimits = { ...USUAL_LIMITS, ms: 60_000, rows: MOST_ROWS };

/** How often is looked whether a question is late. */
const LOOK_MS = 50;

/** Statements that read and do nothing else. */
const READING = [StatementType.SELECT, StatementType.EXPLAIN];

/**
 * Answers a question of archives. The engine sees their files and nothing else of this machine, and no
 * statement is run that does more than read.
 *
 * @param sql one statement over the tables of core/archive/tables.ts
 * @throws ArchiveProblem where it is no question, makes no sense, or takes more than the limits
 */
export async function ask(
  archives: readonly string[],
  sql: string,
  limits: Partial<AskLimits> = {},
): Promise<Answer> {
  const { ms, rows: most, ...engine } = { ...USUAL, ...limits };
  const duck = await openDuck(engine);
  const { connection } = duck;
  const until = performance.now() + ms;
  const isLate = () => performance.now() > until;
  // Again and again: what is interrupted between two statements goes on with the next.
  const timer = setInterval(() => isLate() && connection.interrupt(), LOOK_MS);
  try {
    const tables = tablesIn(connection, sql);
    await declareTables(connection, archives, tables);
    await lock(connection, archives, tables);
    await refuseUnlessReading(connection, sql);
    const began = performance.now();
    const reader = await connection.streamAndReadUntil(sql, most + 1);
    const types = reader.columnTypes().map(String);
    const rows = reader.getRowsJson().map((row) => row.map((value, i) => plain(value, types[i]!)));
    return {
      columns: reader.columnNames().map((name, i) => ({ name, type: types[i]! })),
      rows: rows.slice(0, most),
      isCut: rows.length > most,
      ms: performance.now() - began,
    };
  } catch (error) {
    if (error instanceof ArchiveProblem) throw error;
    if (isLate())
      throw new ArchiveProblem(
        `The question took longer than ${ms / 1000} s and was ended. Narrow it, to one month say.`,
      );
    throw new ArchiveProblem(inPlainWords((error as Error).message));
  } finally {
    clearInterval(timer);
    duck.close();
  }
}

/** The archive's tables that a statement names. @throws ArchiveProblem where it cannot be understood */
function tablesIn(connection: DuckDBConnection, sql: string): TableName[] {
  try {
    const named = new Set(connection.getTableNames(sql, false).map((name) => name.toLowerCase()));
    return TABLE_NAMES.filter((name) => named.has(name));
  } catch (error) {
    throw new ArchiveProblem(inPlainWords((error as Error).message));
  }
}

/** From here on the engine reads the files of these tables, and nothing else; nobody can change that. */
async function lock(
  connection: DuckDBConnection,
  archives: readonly string[],
  tables: readonly TableName[],
): Promise<void> {
  const files = tables.flatMap((table) => archives.flatMap((archive) => filesOf(archive, table)));
  await connection.run(`SET allowed_paths = ${quotedList(files)}`);
  await connection.run("SET enable_external_access = false");
  await connection.run("SET lock_configuration = true");
}

async function refuseUnlessReading(connection: DuckDBConnection, sql: string): Promise<void> {
  const statements = await connection.extractStatements(sql);
  if (statements.count !== 1)
    throw new ArchiveProblem("Ask one question at a time: one SELECT statement.");
  const prepared = await statements.prepare(0);
  try {
    if (!READING.includes(prepared.statementType))
      throw new ArchiveProblem("An archive is only read here: begin the question with SELECT.");
  } finally {
    prepared.destroySync();
  }
}

/** Whole numbers come as text, since they may be larger than a number is exact. */
const plain = (value: unknown, type: string): unknown =>
  typeof value === "string" &&
  /INT|DECIMAL/.test(type) &&
  Number.isSafeInteger(Math.trunc(Number(value)))
    ? Number(value)
    : value;

/** What the engine says, without the place in its own program. */
const inPlainWords = (message: string): string =>
  /out of memory/i.test(message)
    ? "The question needs more memory than it may use. Narrow it, to one month say."
    : `The question cannot be answered: ${message.replace(/^[\w ]+ Error: /, "").slice(0, 2000)}`;
