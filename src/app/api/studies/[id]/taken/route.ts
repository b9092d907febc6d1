import { services } from "@/services/services";
import { untake } from "@/services/elsewhere/taken";
import { readJson, respond, type Params } from "../../../respond";

/** Takes back what was typed or imported. */
export const DELETE = (request: Request, { params }: Params<"id">) =>
  respond(async () => untake(services().store, (await params).id, await readJson(request)));
