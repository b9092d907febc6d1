import { services } from "@/services/services";
import { steer } from "@/services/plans/steer";
import { readJson, respond, type Params } from "../../respond";

export const GET = (_: Request, { params }: Params<"id">) =>
  respond(async () => services().planner.view((await params).id));

/** Steers a plan: go, pause, abort, or skip, repeat and move one of its runs. */
export const POST = (request: Request, { params }: Params<"id">) =>
  respond(async () => steer(services().planner, (await params).id, await readJson(request)));
