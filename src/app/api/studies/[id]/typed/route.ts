import { bench } from "@/bench/bench";
import { addTyped } from "@/bench/elsewhere/typed";
import { readJson, respond, type Params } from "../../../respond";

/** Takes in figures that were written down. */
export const POST = (request: Request, { params }: Params<"id">) =>
  respond(async () => addTyped(bench().store, (await params).id, await readJson(request)), 201);
