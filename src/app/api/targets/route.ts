import { services } from "@/services/services";
import { lookAtTarget } from "@/services/measuring/order";
import { respond } from "../respond";

/** What the usual settings of a drill follow from: facts of the place that is named. */
export const GET = (request: Request) =>
  respond(() => lookAtTarget(services().store, new URL(request.url).searchParams));
