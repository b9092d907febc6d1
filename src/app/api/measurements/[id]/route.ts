import { bench } from "@/bench/bench";
import { putMeasurementBack, removeMeasurement } from "@/bench/removal";
import { measurement } from "@/bench/studies";
import { respond, type Params } from "../../respond";

export const GET = (_request: Request, { params }: Params<"id">) =>
  respond(async () => {
    const { store, desk } = bench();
    return desk.keeper.withEnd(measurement(store, (await params).id));
  });

/** Takes a measurement out of its study. */
export const DELETE = (_request: Request, { params }: Params<"id">) =>
  respond(async () => removeMeasurement(bench().store, (await params).id));

/** Puts a measurement back that was removed. */
export const PUT = (_request: Request, { params }: Params<"id">) =>
  respond(async () => putMeasurementBack(bench().store, (await params).id));
