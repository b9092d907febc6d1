import { services } from "@/services/services";
import { putMeasurementBack, removeMeasurement } from "@/services/studies/removal";
import { measurement } from "@/services/studies/studies";
import { respond, type Params } from "../../respond";

export const GET = (_request: Request, { params }: Params<"id">) =>
  respond(async () => {
    const { store, desk } = services();
    return desk.keeper.withEnd(measurement(store, (await params).id));
  });

/** Takes a measurement out of its study. */
export const DELETE = (_request: Request, { params }: Params<"id">) =>
  respond(async () => removeMeasurement(services().store, (await params).id));

/** Puts a measurement back that was removed. */
export const PUT = (_request: Request, { params }: Params<"id">) =>
  respond(async () => putMeasurementBack(services().store, (await params).id));
