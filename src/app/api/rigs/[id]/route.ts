import { services } from "@/services/services";
import { changeRig, dropRig, restoreRig } from "@/services/studies/studies";
import { readJson, respond, type Params } from "../../respond";

export const PUT = (request: Request, { params }: Params<"id">) =>
  respond(async () => changeRig(services().store, (await params).id, await readJson(request)));

export const DELETE = (_request: Request, { params }: Params<"id">) =>
  respond(async () => dropRig(services().store, (await params).id));

/** Puts a rig that was taken out of its study back where it stood. */
export const PATCH = (request: Request, { params }: Params<"id">) =>
  respond(async () => restoreRig(services().store, (await params).id, await readJson(request)));
