import * as z from "zod";
import { bench } from "@/bench/bench";
import { checked } from "@/bench/problem";
import { changePart, retire } from "@/bench/shelf";
import { readJson, respond, type Params } from "../../respond";

export const PUT = (request: Request, { params }: Params<"id">) =>
  respond(async () => changePart(bench().store, (await params).id, await readJson(request)));

const Change = z.object({ retired: z.boolean() });

export const PATCH = (request: Request, { params }: Params<"id">) =>
  respond(async () => {
    const { retired } = checked(Change, await readJson(request));
    retire(bench().store, (await params).id, retired);
  });
