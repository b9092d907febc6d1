import { bench } from "@/bench/bench";
import { simulateFor } from "@/bench/simulate";
import { readJson, respond, type Params } from "../../../respond";

/** Does a drill on the simulated bench; nothing is stored. */
export const POST = (request: Request, { params }: Params<"id">) =>
  respond(async () => simulateFor(bench().store, (await params).id, await readJson(request)));
