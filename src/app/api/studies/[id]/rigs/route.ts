import { services } from "@/services/services";
import { addRig } from "@/services/studies/studies";
import { readJson, respond, type Params } from "../../../respond";

export const POST = (request: Request, { params }: Params<"id">) =>
  respond(
    async () => ({ id: addRig(services().store, (await params).id, await readJson(request)) }),
    201,
  );
