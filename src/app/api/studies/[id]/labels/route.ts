import { services } from "@/services/services";
import { setLabels } from "@/services/studies/labels";
import { readJson, respond, type Params } from "../../../respond";

/** Sets a study's title and tags. */
export const PUT = (request: Request, { params }: Params<"id">) =>
  respond(async () => setLabels(services().store, (await params).id, await readJson(request)));
