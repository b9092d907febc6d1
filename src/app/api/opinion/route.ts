import { services } from "@/services/services";
import { opinionOf, setOpinion } from "@/services/conclusions/opinion";
import { readJson, respond } from "../respond";

export const GET = () => respond(() => opinionOf(services().store));

/** Sets how often each cause occurs, and how long each change takes, as this tester sees it. */
export const PUT = (request: Request) =>
  respond(async () => setOpinion(services().store, await readJson(request)));
