import { services } from "@/services/services";
import { demandFromRun } from "@/services/studies/demand-of-run";
import { readJson, respond, type Params } from "../../../respond";

/** Adds what a run moved to the demands of its study. */
export const POST = (request: Request, { params }: Params<"id">) =>
  respond(
    async () => demandFromRun(services().store, (await params).id, await readJson(request)),
    201,
  );
