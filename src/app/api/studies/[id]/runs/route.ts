import { services } from "@/services/services";
import { followed } from "@/services/intake/progress";
import { takeRunsIn } from "@/services/intake/take";
import { readBytes, respond, type Params } from "../../../respond";

/** A plan's runs with a trace of ten samples a second over some days. */
const FILE_LIMIT = 64 * 1024 * 1024;

/** Takes in the runs of a file. */
export const POST = (request: Request, { params }: Params<"id">) =>
  respond(async () => {
    const { id } = await params;
    const bytes = await readBytes(request, FILE_LIMIT);
    const { signal } = request;
    return followed(request, async (tell) => ({
      ids: await takeRunsIn(services().store, id, bytes, { signal, tell }),
    }));
  }, 201);
