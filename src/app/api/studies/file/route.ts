import { bench } from "@/bench/bench";
import { takeInStudy } from "@/bench/study-file";
import { readBytes, respond } from "../../respond";

/** A study with long traces, or an archive of one. */
const FILE_LIMIT = 64 * 1024 * 1024;

/** Takes in a study's file: whole, or not at all. */
export const POST = (request: Request) =>
  respond(async () => takeInStudy(bench().store, await readBytes(request, FILE_LIMIT)), 201);
