import { services } from "@/services/services";
import { setStudyAside } from "@/services/studies/labels";
import { readJson, respond, type Params } from "../../../respond";

/** Sets a study aside, or brings it back. */
export const PUT = (request: Request, { params }: Params<"id">) =>
  respond(async () => setStudyAside(services().store, (await params).id, await readJson(request)));
