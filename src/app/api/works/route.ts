import { services } from "@/services/services";
import { LOG_LIMIT, readBytes, respond } from "../respond";

/** Recorded work that can be done again. */
export const GET = () => respond(() => services().recordings.works());

/** Takes a recording in that was made elsewhere. */
export const POST = (request: Request) =>
  respond(async () => services().recordings.take(await readBytes(request, LOG_LIMIT)), 201);
