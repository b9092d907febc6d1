import { bench } from "@/bench/bench";
import { addRig } from "@/bench/studies";
import { readJson, respond, type Params } from "../../../respond";

export const POST = (request: Request, { params }: Params<"id">) =>
  respond(
    async () => ({ id: addRig(bench().store, (await params).id, await readJson(request)) }),
    201,
  );
