import { bench } from "@/bench/bench";
import { setTolerance } from "@/bench/studies";
import { readJson, respond, type Params } from "../../respond";

/** Changes what a study's verdicts allow for. */
export const PATCH = (request: Request, { params }: Params<"id">) =>
  respond(async () => setTolerance(bench().store, (await params).id, await readJson(request)));
