import { services } from "@/services/services";
import { enterPart, shelf } from "@/services/shelf/shelf";
import { readJson, respond } from "../respond";

export const GET = () => respond(() => shelf(services().store));

export const POST = (request: Request) =>
  respond(async () => enterPart(services().store, await readJson(request)), 201);
