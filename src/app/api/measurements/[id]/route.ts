import { bench } from "@/bench/bench";
import { measurement } from "@/bench/studies";
import { respond, type Params } from "../../respond";

export const GET = (_request: Request, { params }: Params<"id">) =>
  respond(async () => {
    const { store, desk } = bench();
    return desk.keeper.withEnd(measurement(store, (await params).id));
  });
