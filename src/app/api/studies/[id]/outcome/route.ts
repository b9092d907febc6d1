import { bench } from "@/bench/bench";
import { addOutcome } from "@/bench/elsewhere/outcome";
import { undoable } from "@/bench/elsewhere/taken";
import { readJson, respond, type Params } from "../../../respond";

/** Takes in figures that were written down. */
export const POST = (request: Request, { params }: Params<"id">) =>
  respond(async () => {
    const { id } = await params;
    return undoable(id, addOutcome(bench().store, id, await readJson(request)));
  }, 201);
