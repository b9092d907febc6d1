import { services } from "@/services/services";
import { keepWatched } from "@/services/watching/keep-watched";
import { readJson, respond } from "../../respond";

/** A day of looks, ten a second. */
const LIMIT = 64 * 1024 * 1024;

/** Keeps what was watched as a run. */
export const POST = (request: Request) =>
  respond(async () => keepWatched(services().store, await readJson(request, LIMIT)), 201);
