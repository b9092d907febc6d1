import { bench } from "@/bench/bench";
import { followed } from "@/bench/intake/progress";
import { takeStudyIn } from "@/bench/intake/take";
import { readBytes, respond } from "../../respond";

/** A study with long traces, or an archive of one. */
const FILE_LIMIT = 64 * 1024 * 1024;

/** Takes in a study's file: whole, or not at all. */
export const POST = (request: Request) =>
  respond(async () => {
    const bytes = await readBytes(request, FILE_LIMIT);
    const { signal } = request;
    return followed(request, (tell) => takeStudyIn(bench().store, bytes, { signal, tell }));
  }, 201);
