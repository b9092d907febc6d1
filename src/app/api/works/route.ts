import { services } from "@/services/services";
import { LOG_LIMIT, readBytes, respond } from "../respond";

/** Recorded work that can be done again. */
export const GET = () => respond(() => services().recordings.works());

/** Takes a recording in that was made elsewhere; the address may say what its file is called. */
export const POST = (request: Request) =>
  respond(async () => {
    const name = new URL(request.url).searchParams.get("name") ?? "";
    return services().recordings.take(await readBytes(request, LOG_LIMIT), name);
  }, 201);
