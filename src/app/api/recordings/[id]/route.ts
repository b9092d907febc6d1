import { services } from "@/services/services";
import { respond, type Params } from "../../respond";

/** What the recorded work asks of the drive. */
export const GET = (_: Request, { params }: Params<"id">) =>
  respond(async () => services().recordings.told((await params).id));

export const DELETE = (_: Request, { params }: Params<"id">) =>
  respond(async () => services().recordings.remove((await params).id));
