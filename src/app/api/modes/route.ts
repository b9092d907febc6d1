import * as z from "zod";
import { bench } from "@/bench/bench";
import { addOwnMode, dropOwnMode, ownModes, restoreOwnMode } from "@/bench/own-modes";
import { checked } from "@/bench/problem";
import { readJson, respond } from "../respond";

export const GET = () => respond(() => ownModes(bench().store));

export const POST = (request: Request) =>
  respond(async () => ({ id: addOwnMode(bench().store, await readJson(request)) }), 201);

const Named = z.object({ id: z.string() });

export const DELETE = (request: Request) =>
  respond(async () => dropOwnMode(bench().store, checked(Named, await readJson(request)).id));

export const PUT = (request: Request) =>
  respond(async () => restoreOwnMode(bench().store, checked(Named, await readJson(request)).id));
