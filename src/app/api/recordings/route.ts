import * as z from "zod";
import { checked } from "@/services/problem";
import { countedOnHost } from "@/core/host/counted";
import { notKnown } from "@/services/hosts/machines";
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
  respond(async () => {
    const { name } = checked(Drive, await readJson(request));
    const { recordings, hosts } = services();
    const host = countedOnHost(name)?.host;
    if (host && !hosts.has(host)) throw notKnown(host);
    return recordings.begin(name);
  }, 201);
