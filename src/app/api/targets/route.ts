import { services } from "@/services/services";
import { lookAtTarget } from "@/services/measuring/order";
import { respond } from "../respond";

/** What the usual settings of a drill follow from: facts of the place that is named. */
export const GET = (request: Request) =>
  respond(() => {
    const { store, hosts } = services();
    return lookAtTarget(store, new URL(request.url).searchParams, hosts);
  });
