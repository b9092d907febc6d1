import { bench } from "@/bench/bench";
import { previewGrid, takeGrid } from "@/bench/elsewhere/grid";
import { undoable } from "@/bench/elsewhere/taken";
import { readJson, respond, type Params } from "../../../respond";

const GRID_LIMIT = 4 * 1024 * 1024;

/** Shows what a pasted grid would become. */
export const PUT = (request: Request, { params }: Params<"id">) =>
  respond(async () =>
    previewGrid(bench().store, (await params).id, await readJson(request, GRID_LIMIT)),
  );

/** Takes a pasted grid in. */
export const POST = (request: Request, { params }: Params<"id">) =>
  respond(async () => {
    const { id } = await params;
    return undoable(id, takeGrid(bench().store, id, await readJson(request, GRID_LIMIT)));
  }, 201);
