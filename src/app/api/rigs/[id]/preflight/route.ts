import { services } from "@/services/services";
import { lookBefore } from "@/services/measuring/preflight";
import { readJson, respond, type Params } from "../../../respond";

/** What a measurement that is being asked for would meet. */
export const POST = (request: Request, { params }: Params<"id">) =>
  respond(async () => {
    const { store, folder: ownFolder, hosts: machines } = services();
    return lookBefore(store, { machines, ownFolder }, (await params).id, await readJson(request));
  });
