import { services } from "@/services/services";
import { takeAsSeen } from "@/services/plugged/plugged";
import { readJson, respond, type Params } from "../../../respond";

/** Takes a rig as the system says that it is. */
export const POST = (request: Request, { params }: Params<"id">) =>
  respond(async () => {
    const { store, hosts } = services();
    return takeAsSeen(store, (await params).id, await readJson(request), hosts);
  });
