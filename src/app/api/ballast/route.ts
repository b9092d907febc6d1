import * as z from "zod";
import type { BallastState } from "@/core/ballast/shown";
import { absolutePath } from "@/core/units/text";
import { checked, Problem } from "@/services/problem";
import { services } from "@/services/services";
import { readJson, respond } from "../respond";

const Place = z.object({
  target: absolutePath("name the directory on the drive"),
  reserve: z.coerce.number().int().nonnegative().nullable().default(null),
});
const placeIn = (request: Request) =>
  checked(Place, Object.fromEntries(new URL(request.url).searchParams));

/** How a place stands, and all ballast on the drives of this machine. */
export const GET = (request: Request) =>
  respond(async () => {
    const { target, reserve } = placeIn(request);
    const { ballasts } = services();
    // In this order: what is not under way any more then stands in the place.
    const all = await ballasts.list();
    const place = await ballasts.place(target, reserve);
    return { place, all, trouble: ballasts.troubleAt(target) } satisfies BallastState;
  });

/** Begins to fill a drive to a level. */
export const POST = (request: Request) =>
  respond(async () => {
    await services().ballasts.begin(await readJson(request));
  }, 201);

/** Removes the ballast of a place. */
export const DELETE = (request: Request) =>
  respond(async () => {
    const { target } = placeIn(request);
    const { ended } = await services().ballasts.begin({ target, level: 0 });
    const end = await ended;
    if ("reason" in end) throw new Problem(422, end.reason);
  });
