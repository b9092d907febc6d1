import * as z from "zod";
import { services } from "@/services/services";
import { addOwnMode, dropOwnMode, ownModes, restoreOwnMode } from "@/services/shelf/own-modes";
import { checked } from "@/services/problem";
import { readJson, respond } from "../respond";

export const GET = () => respond(() => ownModes(services().store));

export const POST = (request: Request) =>
  respond(async () => ({ id: addOwnMode(services().store, await readJson(request)) }), 201);

const Named = z.object({ id: z.string() });

export const DELETE = (request: Request) =>
  respond(async () => dropOwnMode(services().store, checked(Named, await readJson(request)).id));

export const PUT = (request: Request) =>
  respond(async () => restoreOwnMode(services().store, checked(Named, await readJson(request)).id));
