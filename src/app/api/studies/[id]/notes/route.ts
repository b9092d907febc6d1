import { services } from "@/services/services";
import { setNotes } from "@/services/studies/change-study";
import { readJson, respond, type Params } from "../../../respond";

/** Keeps what the tester notes beside a study. */
export const PUT = (request: Request, { params }: Params<"id">) =>
  respond(async () => setNotes(services().store, (await params).id, await readJson(request)));
