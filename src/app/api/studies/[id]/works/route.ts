import { foretoldWorks } from "@/services/recordings/foretold";
import { services } from "@/services/services";
import { respond, type Params } from "../../../respond";

/** How long the recorded work of a study would take through rigs that were measured with ladders. */
export const GET = (request: Request, { params }: Params<"id">) =>
  respond(async () => {
    const following = { signal: request.signal, tell: () => undefined };
    return foretoldWorks(services(), (await params).id, following);
  });
