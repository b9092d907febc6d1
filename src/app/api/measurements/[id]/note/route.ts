import { services } from "@/services/services";
import { noteDuring } from "@/services/measuring/note";
import { readJson, respond, type Params } from "../../../respond";

/** Keeps what a tester notes while a run goes on, at the moment of that. */
export const POST = (request: Request, { params }: Params<"id">) =>
  respond(async () => noteDuring(services().desk, (await params).id, await readJson(request)));
