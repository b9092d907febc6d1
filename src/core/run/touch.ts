import * as z from "zod";
import { HostName } from "../units/host-name";

/** Since when, and why, nothing is heard of a host that a run goes on on. */
export const Touch = z.object({
  host: HostName,
  /** Milliseconds of the epoch; null while it is in touch. */
  outSince: z.number().nullable(),
  reason: z.string().nullable(),
});
export type Touch = z.infer<typeof Touch>;
