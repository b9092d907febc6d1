import { services } from "@/services/services";
import { respond, type Params } from "../../../respond";

/** Ends a recording. */
export const POST = (_: Request, { params }: Params<"id">) =>
  respond(async () => services().recordings.stop((await params).id));
