import { services } from "@/services/services";
import { rigOfPlugged } from "@/services/plugged/plugged";
import { readJson, respond, type Params } from "../../../../respond";

/** Makes a rig of a drive that is plugged in, and puts its new parts on the shelf. */
export const POST = (request: Request, { params }: Params<"id">) =>
  respond(async () => {
    const { store, hosts } = services();
    return rigOfPlugged(store, (await params).id, await readJson(request), hosts);
  }, 201);
