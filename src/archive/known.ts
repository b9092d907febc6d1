import { TABLES, type Row, type TableName } from "@/core/archive/tables";
import { openDuck } from "./duck";
import { declareTables } from "./declare";

/** Tables whose rows stand for versions of something: one row for each version. */
const VERSIONED = { parts: "part_version", rigs: "rig_version" } as const;
/** Tables that tell of changes: a row is news where the latest of its key differs. */
const CHANGING = ["studies", "findings", "verdicts", "marks"] as const;

/** What an archive holds, as far as it takes to write nothing twice. */
export class Known {
  /** Of each run, by its id, what the tester did to it as far as the archive says. */
  readonly runs = new Map<string, string>();
  private readonly versions = { parts: new Set<string>(), rigs: new Set<string>() };
  private readonly latest = new Map<string, string>();

  /** Reads an archive's keys. @throws ArchiveProblem where files of it cannot be read */
  static async of(archive: string): Promise<Known> {
    const known = new Known();
    const duck = await openDuck();
    try {
      await declareTables(duck.connection, [archive]);
      const rows = async (sql: string) =>
        (await duck.connection.runAndReadAll(sql)).getRowsJson() as string[][];
      for (const [table, column] of Object.entries(VERSIONED))
        for (const [version] of await rows(`SELECT DISTINCT "${column}" FROM "${table}"`))
          known.versions[table as keyof typeof VERSIONED].add(version!);
      for (const table of CHANGING) {
        const { key, version } = TABLES[table];
        const columns = [...key, version!].map((name) => `"${name}"`).join(", ");
        for (const row of await rows(`SELECT ${columns} FROM "${table}" ORDER BY written_at`))
          known.latest.set(keyOf(table, row.slice(0, -1)), row.at(-1)!);
      }
      for (const [id, mark] of await rows("SELECT run_id, mark_version FROM runs"))
        known.runs.set(id!, mark!);
      for (const [id, mark] of await rows(
        "SELECT run_id, mark_version FROM marks ORDER BY written_at",
      ))
        known.runs.set(id!, mark!);
    } finally {
      duck.close();
    }
    return known;
  }

  /** Whether the archive lacks a version of a part or a rig. */
  lacks(table: keyof typeof VERSIONED, version: string): boolean {
    return !this.versions[table].has(version);
  }

  /** Whether a row says what the archive does not hold yet; from now on the archive holds it. */
  isNews<T extends TableName>(table: T, row: Row<T>): boolean {
    const values = row as Record<string, unknown>;
    const versions = this.versions[table as keyof typeof VERSIONED];
    if (versions) {
      const version = String(values[VERSIONED[table as keyof typeof VERSIONED]]);
      const isNew = !versions.has(version);
      versions.add(version);
      return isNew;
    }
    const { key, version } = TABLES[table];
    if (version === null) return true;
    const id = keyOf(
      table,
      key.map((name) => values[name]),
    );
    const now = String(values[version]);
    if (this.latest.get(id) === now) return false;
    this.latest.set(id, now);
    return true;
  }
}

const keyOf = (table: string, values: readonly unknown[]) =>
  JSON.stringify([table, ...values.map(String)]);
