import { services } from "@/services/services";
import { previewGrid, takeGrid } from "@/services/elsewhere/grid";
import { undoable } from "@/services/elsewhere/taken";
import { readJson, respond, type Params } from "../../../respond";

const GRID_LIMIT = 4 * 1024 * 1024;

/** Shows what a pasted grid would become. */
export const PUT = (request: Request, { params }: Params<"id">) =>
  respond(async () =>
    previewGrid(services().store, (await params).id, await readJson(request, GRID_LIMIT)),
  );

/** Takes a pasted grid in. */
export const POST = (request: Request, { params }: Params<"id">) =>
  respond(async () => {
    const { id } = await params;
    return undoable(id, takeGrid(services().store, id, await readJson(request, GRID_LIMIT)));
  }, 201);
