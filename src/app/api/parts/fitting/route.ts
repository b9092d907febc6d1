import { services } from "@/services/services";
import { fitting } from "@/services/plugged/fitting";
import { readJson, respond } from "../../respond";

/** A question, though it is posted: a chain is too long for an address. */
export const POST = (request: Request) =>
  respond(async () => fitting(services().store, await readJson(request)));
