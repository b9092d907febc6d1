import { services } from "@/services/services";
import { simulateFor } from "@/services/measuring/simulate";
import { readJson, respond, type Params } from "../../../respond";

/** Does a drill on the simulated bench; nothing is stored. */
export const POST = (request: Request, { params }: Params<"id">) =>
  respond(async () => {
    const following = { signal: request.signal, tell: () => undefined };
    return simulateFor(services(), (await params).id, await readJson(request), following);
  });
