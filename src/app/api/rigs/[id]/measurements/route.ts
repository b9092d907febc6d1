import { services } from "@/services/services";
import { beginMeasurement } from "@/services/measuring/measure";
import { readJson, respond, type Params } from "../../../respond";

export const POST = (request: Request, { params }: Params<"id">) =>
  respond(
    async () => ({
      id: await beginMeasurement(services(), (await params).id, await readJson(request)),
    }),
    201,
  );
