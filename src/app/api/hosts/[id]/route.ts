import { services } from "@/services/services";
import { respond, type Params } from "../../respond";

/** Looks at a host again. */
export const POST = (_request: Request, { params }: Params<"id">) =>
  respond(async () => services().hosts.look((await params).id));

/** Takes a host off the list. */
export const DELETE = (_request: Request, { params }: Params<"id">) =>
  respond(async () => services().hosts.remove((await params).id));
