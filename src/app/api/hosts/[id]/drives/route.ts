import { services } from "@/services/services";
import { respond, type Params } from "../../../respond";

/** The drives that a host has now. */
export const GET = (_request: Request, { params }: Params<"id">) =>
  respond(async () => ({ drives: await services().hosts.drives((await params).id) }));
