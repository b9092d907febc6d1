import { services } from "@/services/services";
import { traceStretch } from "@/services/studies/trace";
import { respond, type Params } from "../../../respond";

/** A stretch of a run's trace: ?from=&to= in milliseconds, &places= how finely. */
export const GET = (request: Request, { params }: Params<"id">) =>
  respond(async () =>
    traceStretch(
      services().store,
      (await params).id,
      Object.fromEntries(new URL(request.url).searchParams),
    ),
  );
