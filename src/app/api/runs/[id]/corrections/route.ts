import { services } from "@/services/services";
import { correctRun } from "@/services/studies/trace";
import { readJson, respond, type Params } from "../../../respond";

/** Keeps what the tester corrected of what was found in a run. */
export const PUT = (request: Request, { params }: Params<"id">) =>
  respond(async () => correctRun(services().store, (await params).id, await readJson(request)));
