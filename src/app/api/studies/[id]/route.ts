import { bench } from "@/bench/bench";
import { putStudyBack, removeStudy } from "@/bench/removal";
import { setTolerance } from "@/bench/studies";
import { readJson, respond, type Params } from "../../respond";

/** Changes what a study's verdicts allow for. */
export const PATCH = (request: Request, { params }: Params<"id">) =>
  respond(async () => setTolerance(bench().store, (await params).id, await readJson(request)));

/** Takes a study out of sight. */
export const DELETE = (_request: Request, { params }: Params<"id">) =>
  respond(async () => removeStudy(bench().store, (await params).id));

/** Puts a study back that was removed. */
export const PUT = (_request: Request, { params }: Params<"id">) =>
  respond(async () => putStudyBack(bench().store, (await params).id));
