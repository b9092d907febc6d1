import * as z from "zod";
import { checked } from "@/services/problem";
import { services } from "@/services/services";
import { readJson, respond } from "../../respond";

const Wanted = z.object({ studyId: z.string().min(1).max(80) });

/** Imports a study out of the archives. */
export const POST = (request: Request) =>
  respond(async () => {
    const { studyId } = checked(Wanted, await readJson(request));
    return services().archives.takeIn(studyId);
  }, 201);
