import { bench } from "@/bench/bench";
import { addPart, shelf } from "@/bench/shelf";
import { readJson, respond } from "../respond";

export const GET = () => respond(() => shelf(bench().store));

export const POST = (request: Request) =>
  respond(async () => ({ id: addPart(bench().store, await readJson(request)) }), 201);
