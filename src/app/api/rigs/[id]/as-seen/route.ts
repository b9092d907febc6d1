import { bench } from "@/bench/bench";
import { takeAsSeen } from "@/bench/plugged";
import { readJson, respond, type Params } from "../../../respond";

/** Takes a rig as the system says that it is. */
export const POST = (request: Request, { params }: Params<"id">) =>
  respond(async () => takeAsSeen(bench().store, (await params).id, await readJson(request)));
