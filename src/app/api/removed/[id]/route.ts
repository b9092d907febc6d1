import { services } from "@/services/services";
import { putBack } from "@/services/removed/removed";
import { respond, type Params } from "../../respond";

/** Puts something back that was removed. */
export const PUT = (_request: Request, { params }: Params<"id">) =>
  respond(async () => putBack(services().store, (await params).id));
