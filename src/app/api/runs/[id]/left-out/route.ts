import { bench } from "@/bench/bench";
import { leaveOut } from "@/bench/trace";
import { readJson, respond, type Params } from "../../../respond";

/** Leaves a run out of what is concluded, with a reason, or takes it in again. */
export const PUT = (request: Request, { params }: Params<"id">) =>
  respond(async () => leaveOut(bench().store, (await params).id, await readJson(request)));
