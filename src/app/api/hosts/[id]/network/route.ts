import { services } from "@/services/services";
import { readJson, respond, type Params } from "../../../respond";

/** What the networks to a host carry by themselves, and whether one is being measured. */
export const GET = (_request: Request, { params }: Params<"id">) =>
  respond(async () => services().networks.state((await params).id));

/** Begins to measure the network to a host. */
export const POST = (request: Request, { params }: Params<"id">) =>
  respond(async () => services().networks.start((await params).id, await readJson(request)));

/** Ends what is being measured. */
export const DELETE = () => respond(() => services().networks.stop());
