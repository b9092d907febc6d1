import { bench } from "@/bench/bench";
import { setNotes } from "@/bench/studies";
import { readJson, respond, type Params } from "../../../respond";

/** Keeps what the tester notes beside a study. */
export const PUT = (request: Request, { params }: Params<"id">) =>
  respond(async () => setNotes(bench().store, (await params).id, await readJson(request)));
