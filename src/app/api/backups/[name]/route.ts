import { services } from "@/services/services";
import { respond } from "../../respond";

type Named = { params: Promise<{ name: string }> };

/** What the backup would replace. */
export const GET = (_: Request, { params }: Named) =>
  respond(async () => services().backups.compare((await params).name));

/** Removes it. */
export const DELETE = (_: Request, { params }: Named) =>
  respond(async () => services().backups.remove((await params).name));
