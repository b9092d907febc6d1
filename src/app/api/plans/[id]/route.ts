import { bench } from "@/bench/bench";
import { steer } from "@/bench/steer";
import { readJson, respond, type Params } from "../../respond";

export const GET = (_: Request, { params }: Params<"id">) =>
  respond(async () => bench().planner.view((await params).id));

/** Steers a plan: go, pause, abort, or skip, repeat and move one of its runs. */
export const POST = (request: Request, { params }: Params<"id">) =>
  respond(async () => steer(bench().planner, (await params).id, await readJson(request)));
