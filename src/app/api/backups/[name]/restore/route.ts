import { restoreHere } from "@/services/backups/restore-here";
import { respond } from "../../../respond";

/** Puts the backup in the place of what is there. */
export const POST = (_: Request, { params }: { params: Promise<{ name: string }> }) =>
  respond(async () => restoreHere((await params).name));
