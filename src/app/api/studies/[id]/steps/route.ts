import { services } from "@/services/services";
import { makeStep } from "@/services/conclusions/next-step";
import { readJson, respond, type Params } from "../../../respond";

/** Turns a step that was named into a rig and a plan that measures it. */
export const POST = (request: Request, { params }: Params<"id">) =>
  respond(async () => {
    const { store, planner } = services();
    return makeStep(store, planner, (await params).id, await readJson(request));
  }, 201);
