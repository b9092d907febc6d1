import { bench } from "@/bench/bench";
import { createStudy } from "@/bench/studies";
import { readJson, respond } from "../respond";

export const POST = (request: Request) =>
  respond(async () => ({ id: createStudy(bench().store, await readJson(request)) }), 201);
