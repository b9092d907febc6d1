import { services } from "@/services/services";
import { setDemands } from "@/services/studies/change-study";
import { readJson, respond, type Params } from "../../../respond";

export const PUT = (request: Request, { params }: Params<"id">) =>
  respond(async () => setDemands(services().store, (await params).id, await readJson(request)));
