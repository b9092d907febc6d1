import { services } from "@/services/services";
import { setWriting, writingOf } from "@/services/writing";
import { readJson, respond } from "../respond";

export const GET = () => respond(() => writingOf(services().store));

/** Sets how figures and days are written, on every page and in every report. */
export const PUT = (request: Request) =>
  respond(async () => setWriting(services().store, await readJson(request)));
