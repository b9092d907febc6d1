import { services } from "@/services/services";
import { readJson, respond } from "../respond";

/** The hosts of the bench, and those that the SSH configuration names beside them. */
export const GET = () =>
  respond(() => {
    const { hosts } = services();
    return { hosts: hosts.list(), offered: hosts.offered() };
  });

/** Adds a host that can be reached. */
export const POST = (request: Request) =>
  respond(async () => services().hosts.add(await readJson(request)), 201);
