import { bench } from "@/bench/bench";
import { setDemands } from "@/bench/studies";
import { readJson, respond, type Params } from "../../../respond";

export const PUT = (request: Request, { params }: Params<"id">) =>
  respond(async () => setDemands(bench().store, (await params).id, await readJson(request)));
