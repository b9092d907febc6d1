import { bench } from "@/bench/bench";
import { changeRig, dropRig, restoreRig } from "@/bench/studies";
import { readJson, respond, type Params } from "../../respond";

export const PUT = (request: Request, { params }: Params<"id">) =>
  respond(async () => changeRig(bench().store, (await params).id, await readJson(request)));

export const DELETE = (_request: Request, { params }: Params<"id">) =>
  respond(async () => dropRig(bench().store, (await params).id));

/** Puts a rig that was taken out of its study back where it stood. */
export const PATCH = (request: Request, { params }: Params<"id">) =>
  respond(async () => restoreRig(bench().store, (await params).id, await readJson(request)));
