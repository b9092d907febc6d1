import * as z from "zod";
import { checked } from "@/services/problem";
import { services } from "@/services/services";
import { readJson, respond } from "../respond";

const Drive = z.object({ name: z.string().min(1, "name a drive").max(200) });

/** The recordings of a drive, the latest first. */
export const GET = (request: Request) =>
  respond(() => {
    const { name } = checked(Drive, { name: new URL(request.url).searchParams.get("name") ?? "" });
    return services().recordings.list(name);
  });

/** Begins to record a drive. */
export const POST = (request: Request) =>
  respond(
    async () => services().recordings.begin(checked(Drive, await readJson(request)).name),
    201,
  );
