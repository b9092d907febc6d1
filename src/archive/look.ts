import type { ArchiveLook } from "@/core/archive/look";
import { declareTables } from "./declare";
import { openDuck } from "./duck";
import { bytesOf } from "./folder";

/** What an archive holds. @throws ArchiveProblem where it is none, or cannot be read */
export async function look(archive: string): Promise<ArchiveLook> {
  const duck = await openDuck();
  try {
    await declareTables(duck.connection, [archive], ["runs", "samples", "parts"]);
    const first = async (sql: string) =>
      (await duck.connection.runAndReadAll(sql)).getRowsJson()[0] as (string | null)[];
    const [runs, from, until] = await first(
      "SELECT COUNT(*), CAST(MIN(started_at) AS VARCHAR), CAST(MAX(started_at) AS VARCHAR) FROM runs",
    );
    const [samples] = await first("SELECT COUNT(*) FROM samples");
    const [parts] = await first("SELECT COUNT(DISTINCT part_id) FROM parts");
    const hosts = await duck.connection.runAndReadAll("SELECT DISTINCT host FROM runs ORDER BY 1");
    return {
      runs: Number(runs),
      samples: Number(samples),
      parts: Number(parts),
      hosts: hosts.getRowsJson().map(([host]) => String(host)),
      from: from ?? null,
      until: until ?? null,
      bytes: bytesOf(archive),
    };
  } finally {
    duck.close();
  }
}
