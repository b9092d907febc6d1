import fs from "node:fs";
import Database from "better-sqlite3";

/**
 * Takes a lock that one process has at a time. SQLite takes it, on a file of its own: the kernel frees it
 * however the process ends.
 *
 * @param file made where it is missing
 * @returns gives the lock free again; null where another process has it
 */
export function takeLock(file: string): (() => void) | null {
  if (!fs.existsSync(file)) fs.closeSync(fs.openSync(file, "a", 0o600));
  const client = new Database(file, { timeout: 0 });
  try {
    client.exec("begin exclusive");
  } catch (error) {
    client.close();
    if (!String((error as { code?: string }).code).startsWith("SQLITE_BUSY")) throw error;
    return null;
  }
  return () => client.close();
}
