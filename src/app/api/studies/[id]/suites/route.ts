import { services } from "@/services/services";
import { keepSuite, removeSuite } from "@/services/studies/suites";
import { readJson, respond, type Params } from "../../../respond";

/** Keeps what another program's suite showed through rigs of a study. */
export const POST = (request: Request, { params }: Params<"id">) =>
  respond(async () => keepSuite(services().store, (await params).id, await readJson(request)), 201);

/** Removes a suite, by its name, and gives it back. */
export const DELETE = (request: Request, { params }: Params<"id">) =>
  respond(async () => {
    const { searchParams } = new URL(request.url);
    return removeSuite(services().store, (await params).id, Object.fromEntries(searchParams));
  });
