import * as z from "zod";
import { services } from "@/services/services";
import { checked } from "@/services/problem";
import { changePart, retire } from "@/services/shelf/shelf";
import { readJson, respond, type Params } from "../../respond";

export const PUT = (request: Request, { params }: Params<"id">) =>
  respond(async () => changePart(services().store, (await params).id, await readJson(request)));

const Change = z.object({ retired: z.boolean() });

export const PATCH = (request: Request, { params }: Params<"id">) =>
  respond(async () => {
    const { retired } = checked(Change, await readJson(request));
    retire(services().store, (await params).id, retired);
  });
