import { bench } from "@/bench/bench";
import { takeInRuns } from "@/bench/runs-file";
import { readJson, respond, type Params } from "../../../respond";

/** A plan's runs with a trace of ten samples a second over some days. */
const FILE_LIMIT = 64 * 1024 * 1024;

/** Takes in the runs of a file. */
export const POST = (request: Request, { params }: Params<"id">) =>
  respond(async () => {
    const input = await readJson(request, FILE_LIMIT);
    return { ids: takeInRuns(bench().store, (await params).id, input) };
  }, 201);
