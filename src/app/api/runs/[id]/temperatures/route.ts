import { followed } from "@/services/intake/progress";
import { lookAtWarmth, takeWarmthIn } from "@/services/intake/take";
import { takeWarmthOff } from "@/services/elsewhere/log-warmth";
import { services } from "@/services/services";
import { LOG_LIMIT, readBytes, respond, type Params } from "../../../respond";

/** Shows how a log's temperatures would lie over a run. */
export const PUT = (request: Request, { params }: Params<"id">) =>
  withLog(request, params, lookAtWarmth);

/** Lays a log's temperatures over a run. */
export const POST = (request: Request, { params }: Params<"id">) =>
  withLog(request, params, takeWarmthIn);

/** Takes the temperatures of a log off a run: ?log= for its name. */
export const DELETE = (request: Request, { params }: Params<"id">) =>
  respond(async () => {
    const name = new URL(request.url).searchParams.get("log") ?? "";
    takeWarmthOff(services().store, (await params).id, name);
  });

function withLog(
  request: Request,
  params: Params<"id">["params"],
  work: typeof lookAtWarmth | typeof takeWarmthIn,
) {
  return respond(async () => {
    const { id } = await params;
    const bytes = await readBytes(request, LOG_LIMIT);
    const { signal } = request;
    return followed<unknown>(request, (tell) =>
      work(services().store, id, bytes, { signal, tell }),
    );
  });
}
