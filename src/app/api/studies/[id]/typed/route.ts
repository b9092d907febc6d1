import { bench } from "@/bench/bench";
import { addTyped } from "@/bench/elsewhere/typed";
import { undoable } from "@/bench/elsewhere/taken";
import { readJson, respond, type Params } from "../../../respond";

/** Takes in figures that were written down. */
export const POST = (request: Request, { params }: Params<"id">) =>
  respond(async () => {
    const { id } = await params;
    return undoable(id, addTyped(bench().store, id, await readJson(request)));
  }, 201);
