import { services } from "@/services/services";
import { followed } from "@/services/intake/progress";
import { lookAtLog, takeLogIn } from "@/services/intake/take";
import { undoable } from "@/services/elsewhere/taken";
import { LOG_LIMIT, readBytes, respond, type Params } from "../../../respond";

/** Shows what a log would become. */
export const PUT = (request: Request) =>
  respond(async () => {
    const bytes = await readBytes(request, LOG_LIMIT);
    const { signal } = request;
    return followed(request, (tell) => lookAtLog(bytes, { signal, tell }));
  });

/** Takes a log in as a run. */
export const POST = (request: Request, { params }: Params<"id">) =>
  respond(async () => {
    const { id } = await params;
    const bytes = await readBytes(request, LOG_LIMIT);
    const { signal } = request;
    const taken = followed(request, (tell) =>
      takeLogIn(services().store, id, bytes, { signal, tell }),
    );
    return undoable(id, await taken);
  }, 201);
