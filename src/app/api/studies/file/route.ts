import { services } from "@/services/services";
import { followed } from "@/services/intake/progress";
import { takeStudyIn } from "@/services/intake/take";
import { MOST_IN_FILE } from "@/core/exchange/study-archive";
import { readBytes, respond } from "../../respond";

/** Takes in a study's file: whole, or not at all. */
export const POST = (request: Request) =>
  respond(async () => {
    const bytes = await readBytes(request, MOST_IN_FILE);
    const { signal } = request;
    return followed(request, (tell) => takeStudyIn(services(), bytes, { signal, tell }));
  }, 201);
