import * as z from "zod";
import { bench } from "@/bench/bench";
import { dropDrill, keepDrill, ownDrills } from "@/bench/own-drills";
import { checked } from "@/bench/problem";
import { readJson, respond } from "../respond";

export const GET = () => respond(() => ownDrills(bench().store));

export const POST = (request: Request) =>
  respond(async () => ({ id: keepDrill(bench().store, await readJson(request)) }), 201);

const Named = z.object({ id: z.string() });

export const DELETE = (request: Request) =>
  respond(async () => dropDrill(bench().store, checked(Named, await readJson(request)).id));
