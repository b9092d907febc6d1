import { bench } from "@/bench/bench";
import { untake } from "@/bench/elsewhere/taken";
import { readJson, respond, type Params } from "../../../respond";

/** Takes back what was typed or imported. */
export const DELETE = (request: Request, { params }: Params<"id">) =>
  respond(async () => untake(bench().store, (await params).id, await readJson(request)));
