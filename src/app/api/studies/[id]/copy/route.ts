import { services } from "@/services/services";
import { copyStudy, slotsOf } from "@/services/studies/copy-study";
import { readJson, respond, type Params } from "../../../respond";

/** The places of a study's rigs in which other parts can stand. */
export const GET = (_request: Request, { params }: Params<"id">) =>
  respond(async () => slotsOf(services().store, (await params).id));

/** Makes a study like this one, without its runs. */
export const POST = (request: Request, { params }: Params<"id">) =>
  respond(async () => copyStudy(services().store, (await params).id, await readJson(request)));
