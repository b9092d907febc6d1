import { intakeAt } from "@/services/intake/progress";
import { respond, type Params } from "../../respond";

/** What a large input that is being taken in is at; null once it is over. */
export const GET = (_: Request, { params }: Params<"token">) =>
  respond(async () => ({ at: intakeAt((await params).token) }));
