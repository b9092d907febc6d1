import { bench } from "@/bench/bench";
import { changeRig, dropRig } from "@/bench/studies";
import { readJson, respond, type Params } from "../../respond";

export const PUT = (request: Request, { params }: Params<"id">) =>
  respond(async () => changeRig(bench().store, (await params).id, await readJson(request)));

export const DELETE = (_request: Request, { params }: Params<"id">) =>
  respond(async () => dropRig(bench().store, (await params).id));
