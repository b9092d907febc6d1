import { services } from "@/services/services";
import { respond, type Params } from "../../../respond";

/** The drives and interfaces whose traffic a host counts. */
export const GET = (_request: Request, { params }: Params<"id">) =>
  respond(async () => ({ counted: await services().hosts.counted((await params).id) }));
