import { services } from "@/services/services";
import { readJson, respond, type Params } from "../../../respond";

/** Makes a plan of a study, and begins it. */
export const POST = (request: Request, { params }: Params<"id">) =>
  respond(async () => {
    const { planner } = services();
    const id = await planner.create((await params).id, await readJson(request));
    planner.go(id);
    return { id };
  }, 201);
