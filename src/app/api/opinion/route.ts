import { bench } from "@/bench/bench";
import { opinionOf, setOpinion } from "@/bench/opinion";
import { readJson, respond } from "../respond";

export const GET = () => respond(() => opinionOf(bench().store));

/** Sets how often each cause occurs, and how long each change takes, as this tester sees it. */
export const PUT = (request: Request) =>
  respond(async () => setOpinion(bench().store, await readJson(request)));
