import { services } from "@/services/services";
import { addPart, shelf } from "@/services/shelf/shelf";
import { readJson, respond } from "../respond";

export const GET = () => respond(() => shelf(services().store));

export const POST = (request: Request) =>
  respond(async () => ({ id: addPart(services().store, await readJson(request)) }), 201);
