import { services } from "@/services/services";
import { pictureRun } from "@/services/studies/trace";
import { readJson, respond, type Params } from "../../../respond";

/** Shows other pictures with a run. */
export const PUT = (request: Request, { params }: Params<"id">) =>
  respond(async () => pictureRun(services().store, (await params).id, await readJson(request)));
