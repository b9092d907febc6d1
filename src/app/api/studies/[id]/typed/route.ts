import { services } from "@/services/services";
import { addTyped } from "@/services/elsewhere/typed";
import { undoable } from "@/services/elsewhere/taken";
import { readJson, respond, type Params } from "../../../respond";

/** Takes in figures that were written down. */
export const POST = (request: Request, { params }: Params<"id">) =>
  respond(async () => {
    const { id } = await params;
    return undoable(id, addTyped(services().store, id, await readJson(request)));
  }, 201);
