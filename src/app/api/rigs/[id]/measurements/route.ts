import { services } from "@/services/services";
import { beginMeasurement } from "@/services/measuring/measure";
import { readJson, respond, type Params } from "../../../respond";

export const POST = (request: Request, { params }: Params<"id">) =>
  respond(async () => {
    const { store, desk, hosts: machines } = services();
    const bench = { store, desk, machines };
    return { id: await beginMeasurement(bench, (await params).id, await readJson(request)) };
  }, 201);
