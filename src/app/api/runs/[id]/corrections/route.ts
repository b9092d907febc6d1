import { bench } from "@/bench/bench";
import { correctRun } from "@/bench/trace";
import { readJson, respond, type Params } from "../../../respond";

/** Keeps what the tester corrected of what was found in a run. */
export const PUT = (request: Request, { params }: Params<"id">) =>
  respond(async () => correctRun(bench().store, (await params).id, await readJson(request)));
