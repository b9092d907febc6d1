import * as z from "zod";
import { RunStatus } from "../drills/request";
import { EngineEvent } from "../run/protocol";
import { Touch } from "../run/touch";

/** What is told of a measurement under way: what its process says, how the line to its host stands, and how it ended. */
export const MeasurementEvent = z.union([
  EngineEvent,
  Touch.extend({ event: z.literal("touch") }),
  z.object({ event: z.literal("ended"), status: RunStatus, reason: z.string().nullable() }),
]);
export type MeasurementEvent = z.infer<typeof MeasurementEvent>;

/** Several of them at once, as a page is told. */
export const MeasurementEvents = z.array(MeasurementEvent);
