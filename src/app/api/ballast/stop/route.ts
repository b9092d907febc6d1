import * as z from "zod";
import { absolutePath } from "@/core/units/text";
import { checked } from "@/services/problem";
import { services } from "@/services/services";
import { readJson, respond } from "../../respond";

const Place = z.object({ target: absolutePath("name the directory on the drive") });

/** Stops the filling of a drive; what was written stays. */
export const POST = (request: Request) =>
  respond(async () => {
    services().ballasts.stop(checked(Place, await readJson(request)).target);
  });
