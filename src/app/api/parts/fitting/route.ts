import { bench } from "@/bench/bench";
import { fitting } from "@/bench/fitting";
import { readJson, respond } from "../../respond";

/** A question, though it is posted: a chain is too long for an address. */
export const POST = (request: Request) =>
  respond(async () => fitting(bench().store, await readJson(request)));
