import { services } from "@/services/services";
import { leaveOut } from "@/services/studies/trace";
import { readJson, respond, type Params } from "../../../respond";

/** Leaves a run out of what is concluded, with a reason, or takes it in again. */
export const PUT = (request: Request, { params }: Params<"id">) =>
  respond(async () => leaveOut(services().store, (await params).id, await readJson(request)));
