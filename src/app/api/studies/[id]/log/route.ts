import { bench } from "@/bench/bench";
import { previewLog, takeLog } from "@/bench/elsewhere/log";
import { readJson, respond, type Params } from "../../../respond";

/** A day of a line a tenth of a second, and more. */
const LOG_LIMIT = 64 * 1024 * 1024;

/** Shows what a log would become. */
export const PUT = (request: Request) =>
  respond(async () => previewLog(await readJson(request, LOG_LIMIT)));

/** Takes a log in as a run. */
export const POST = (request: Request, { params }: Params<"id">) =>
  respond(
    async () => takeLog(bench().store, (await params).id, await readJson(request, LOG_LIMIT)),
    201,
  );
