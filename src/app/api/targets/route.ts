import { bench } from "@/bench/bench";
import { lookAtTarget } from "@/bench/order";
import { respond } from "../respond";

/** What the usual settings of a drill follow from: facts of the place that is named. */
export const GET = (request: Request) =>
  respond(() => lookAtTarget(bench().store, new URL(request.url).searchParams));
