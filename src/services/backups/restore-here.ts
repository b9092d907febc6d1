import type { Replacement } from "@/core/backup/backup";
import { endServices, services } from "../services";

/**
 * Puts a backup in the place of the database that this server works with.
 *
 * @throws Problem where something is measured, or the backup cannot be restored; then nothing is changed
 */
export async function restoreHere(name: string): Promise<Replacement> {
  const replacement = await services().backups.lay(name);
  await endServices();
  services();
  return replacement;
}
