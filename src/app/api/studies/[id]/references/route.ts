import { services } from "@/services/services";
import { setReferences } from "@/services/studies/change-study";
import { readJson, respond, type Params } from "../../../respond";

/** Sets which rates that no rig gave a study's rigs are seen beside. */
export const PUT = (request: Request, { params }: Params<"id">) =>
  respond(async () => setReferences(services().store, (await params).id, await readJson(request)));
