import { services } from "@/services/services";
import { readJson, respond } from "../respond";

/** The backups, and how they are made. */
export const GET = () => respond(() => services().backups.view());

/** Makes one now. */
export const POST = () => respond(() => services().backups.make("by-hand"), 201);

/** Sets where they go, and how many of the daily ones are kept. */
export const PUT = (request: Request) =>
  respond(async () => services().backups.set(await readJson(request)));
