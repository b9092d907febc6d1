import { bench } from "@/bench/bench";
import { addOutcome } from "@/bench/elsewhere/outcome";
import { readJson, respond, type Params } from "../../../respond";

/** Takes in figures that were written down. */
export const POST = (request: Request, { params }: Params<"id">) =>
  respond(async () => addOutcome(bench().store, (await params).id, await readJson(request)), 201);
