import { services } from "@/services/services";
import { readJson, respond } from "../respond";

/** What the archive holds, and where it is. */
export const GET = () => respond(() => services().archives.view());

/** Sets where it is, and which others are asked with it. */
export const PUT = (request: Request) =>
  respond(async () => services().archives.set(await readJson(request)));
