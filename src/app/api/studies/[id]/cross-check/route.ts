import { crossChecked } from "@/services/elsewhere/cross-check";
import { services } from "@/services/services";
import { readJson, respond, type Params } from "../../../respond";

/** Holds what other programs show of a rig against its ladders; nothing is kept of it. */
export const POST = (request: Request, { params }: Params<"id">) =>
  respond(async () => crossChecked(services().store, (await params).id, await readJson(request)));
