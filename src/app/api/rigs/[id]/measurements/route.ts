import { bench } from "@/bench/bench";
import { beginMeasurement } from "@/bench/measure";
import { readJson, respond, type Params } from "../../../respond";

export const POST = (request: Request, { params }: Params<"id">) =>
  respond(
    async () => ({
      id: await beginMeasurement(bench(), (await params).id, await readJson(request)),
    }),
    201,
  );
