import { services } from "@/services/services";
import { setSuites } from "@/services/studies/studies";
import { readJson, respond, type Params } from "../../../respond";

/** Sets what other programs' suites showed through the rigs of a study. */
export const PUT = (request: Request, { params }: Params<"id">) =>
  respond(async () => setSuites(services().store, (await params).id, await readJson(request)));
