import { services } from "@/services/services";
import { readJson, respond } from "../../respond";

/** Answers a question; whoever leaves ends it. */
export const POST = (request: Request) =>
  respond(async () => services().archives.ask(await readJson(request), request.signal));
