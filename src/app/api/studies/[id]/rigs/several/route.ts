import { services } from "@/services/services";
import { addRigs } from "@/services/studies/studies";
import { readJson, respond, type Params } from "../../../../respond";

/** Adds the rigs that a path makes, all of them or none. */
export const POST = (request: Request, { params }: Params<"id">) =>
  respond(
    async () => ({ ids: addRigs(services().store, (await params).id, await readJson(request)) }),
    201,
  );
