import { services } from "@/services/services";
import { createStudy } from "@/services/studies/studies";
import { readJson, respond } from "../respond";

export const POST = (request: Request) =>
  respond(async () => ({ id: createStudy(services().store, await readJson(request)) }), 201);
