import * as z from "zod";
import { services } from "@/services/services";
import { dropDrill, keepDrill, ownDrills } from "@/services/measuring/own-drills";
import { checked } from "@/services/problem";
import { readJson, respond } from "../respond";

export const GET = () => respond(() => ownDrills(services().store));

export const POST = (request: Request) =>
  respond(async () => ({ id: keepDrill(services().store, await readJson(request)) }), 201);

const Named = z.object({ id: z.string() });

export const DELETE = (request: Request) =>
  respond(async () => dropDrill(services().store, checked(Named, await readJson(request)).id));
