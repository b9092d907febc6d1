import { services } from "@/services/services";
import { putStudyBack, removeStudy } from "@/services/studies/removal";
import { setTolerance } from "@/services/studies/change-study";
import { readJson, respond, type Params } from "../../respond";

/** Changes what a study's verdicts allow for. */
export const PATCH = (request: Request, { params }: Params<"id">) =>
  respond(async () => setTolerance(services().store, (await params).id, await readJson(request)));

/** Takes a study out of sight. */
export const DELETE = (_request: Request, { params }: Params<"id">) =>
  respond(async () => removeStudy(services().store, (await params).id));

/** Puts a study back that was removed. */
export const PUT = (_request: Request, { params }: Params<"id">) =>
  respond(async () => putStudyBack(services().store, (await params).id));
