import type Database from "better-sqlite3";

/** What all studies share, among what is counted: parts, hosts, networks, checks, modes, settings. */
export const BENCH = "bench";

const SHARED = ["parts", "hosts", "networks", "machine_checks", "own_modes", "settings"];

/** Tables whose rows belong to a study, each with the study of a row that is named by its prefix. */
const OF_STUDIES: Readonly<Record<string, (row: string) => string>> = {
  studies: (row) => `values (${row}.id, 1)`,
  study_rigs: (row) => `values (${row}.study_id, 1)`,
  measurements: (row) => `values (${row}.study_id, 1)`,
  runs: (row) => `select study_id, 1 from measurements where id = ${row}.measurement_id`,
  rigs: (row) => `select study_id, 1 from study_rigs where rig_id = ${row}.id`,
};

/**
 * Has a connection count in the table `writes` what it writes that conclusions rest on. The triggers are the
 * connection's own (TEMP, sqlite.org/lang_createtrigger.html): a database's file holds none, so that one from
 * elsewhere carries nothing out when it is opened. A database that has no such table yet counts nothing.
 */
export function countWrites(client: Database.Database): void {
  if (!client.prepare("select 1 from main.sqlite_master where name = 'writes'").get()) return;
  const on = (table: string, of: (row: string) => string) => {
    for (const event of ["insert", "update", "delete"])
      client.exec(
        `create temp trigger ${table}_${event}_counted after ${event} on main.${table} begin
          insert into writes (of, count) ${of(event === "delete" ? "old" : "new")}
          on conflict (of) do update set count = count + 1;
        end`,
      );
  };
  for (const table of SHARED) on(table, () => `select '${BENCH}', 1 where true`);
  for (const [table, of] of Object.entries(OF_STUDIES)) on(table, of);
}
