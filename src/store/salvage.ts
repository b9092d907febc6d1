import fs from "node:fs";
import Database from "better-sqlite3";
import { drizzle } from "drizzle-orm/better-sqlite3";
import { migrate } from "drizzle-orm/better-sqlite3/migrator";
import { figuresOf } from "./backup";
import type { Contents } from "@/core/backup/backup";
import { naturalKey } from "@/core/units/natural";

/** So many reads of one table may fail before what is left of it is given up: some seconds of work. */
const MOST_FAILURES = 20_000;

/**
 * Saves what can be read of a damaged database into a new one, row by row where it must be. The damaged one is only read.
 *
 * @param to there is no such file yet
 * @returns what was saved; null where nothing could be read
 */
export function salvage(file: string, to: string, migrations: string): Contents | null {
  const part = `${to}.part`;
  fs.rmSync(/* turbopackIgnore: true */ part, { force: true });
  fs.closeSync(fs.openSync(/* turbopackIgnore: true */ part, "wx", 0o600));
  const client = new Database(part);
  client.function("natural_key", { deterministic: true }, (name) => naturalKey(String(name)));
  try {
    migrate(drizzle(client), { migrationsFolder: migrations });
    client.pragma("foreign_keys = OFF");
    client.prepare("attach database ? as damaged").run(file);
    for (const table of tablesOf(client)) copyTable(client, table);
    client.exec("detach database damaged");
    dropOrphans(client);
    const saved = figuresOf(client);
    client.close();
    if (saved.runs + saved.studies + saved.parts === 0) return null;
    fs.renameSync(/* turbopackIgnore: true */ part, to);
    return saved;
  } catch {
    return null;
  } finally {
    client.close();
    for (const end of ["", "-journal"])
      fs.rmSync(/* turbopackIgnore: true */ `${part}${end}`, { force: true });
  }
}

/** All tables but that of what is worked out of others: some of those may be lost. */
const tablesOf = (client: Database.Database): string[] =>
  client
    .prepare(
      "select name from main.sqlite_master where type = 'table' and name != 'study_briefs' and name not like 'sqlite_%' and name not like '\\_\\_%' escape '\\'",
    )
    .pluck()
    .all() as string[];

/** Copies the columns that both have. What cannot be read is left out: halves of it are tried, down to single rows. */
function copyTable(client: Database.Database, table: string): void {
  let columns: string[];
  try {
    const there = new Set(columnsOf(client, "damaged", table));
    columns = columnsOf(client, "main", table).filter((name) => there.has(name));
  } catch {
    return;
  }
  if (columns.length === 0) return;
  const names = columns.map((name) => `"${name}"`).join(", ");
  const copy = client.prepare(
    `insert or ignore into main."${table}" (${names}) select ${names} from damaged."${table}" where rowid between ? and ?`,
  );
  let failures = 0;
  const copied = (from: number, to: number): void => {
    try {
      copy.run(from, to);
    } catch {
      failures += 1;
      if (from >= to || failures > MOST_FAILURES) return;
      const middle = Math.floor((from + to) / 2);
      copied(from, middle);
      copied(middle + 1, to);
    }
  };
  const last = lastRow(client, table);
  if (last !== null) copied(0, last);
}

const columnsOf = (client: Database.Database, where: "main" | "damaged", table: string): string[] =>
  client.prepare("select name from pragma_table_info(?, ?)").pluck().all(table, where) as string[];

/** The highest row number; where even that cannot be read, none can. */
function lastRow(client: Database.Database, table: string): number | null {
  try {
    return client.prepare(`select max(rowid) from damaged."${table}"`).pluck().get() as
      number | null;
  } catch {
    return null;
  }
}

/** Rows whose other half was lost would be refused as contradictions. */
function dropOrphans(client: Database.Database): void {
  for (let round = 0; round < 4; round++) {
    const broken = client.pragma("foreign_key_check") as { table: string; rowid: number | null }[];
    if (broken.length === 0) return;
    for (const { table, rowid } of broken)
      if (rowid !== null) client.prepare(`delete from main."${table}" where rowid = ?`).run(rowid);
  }
}
