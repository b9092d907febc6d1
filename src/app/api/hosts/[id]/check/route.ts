import { services } from "@/services/services";
import { respond, type Params } from "../../../respond";

/** What a machine was shown to carry without any drive, and whether it is being checked. */
export const GET = (_request: Request, { params }: Params<"id">) =>
  respond(async () => services().checks.state((await params).id));

/** Begins to check a machine. */
export const POST = (_request: Request, { params }: Params<"id">) =>
  respond(async () => services().checks.start((await params).id));

/** Ends the check that goes on. */
export const DELETE = () => respond(() => services().checks.stop());
