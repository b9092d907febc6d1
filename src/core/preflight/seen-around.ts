import * as z from "zod";
import { Room } from "../ballast/ballast";
import { TargetFacts } from "../drills/parameter";
import { Fact, SystemReport } from "../system/system-report";

/** What a machine sees round a place before a run. */
export const SeenAround = z.object({
  /** Null where there is no such place. */
  facts: TargetFacts.nullable(),
  /** Null where nothing is known of the way there. */
  report: SystemReport.nullable(),
  /** Of the file system: what is free, and all of it, bytes; null for a device. */
  space: Room.nullable(),
  /** File systems that are memory, and what direct I/O cannot reach. */
  memory: z.boolean(),
  /** The same drive as the running system's, or as Nerrit's own data. */
  shared: z.object({ system: z.boolean(), own: z.boolean() }),
  /** Looked at for a second: how much of it the drive, and the busiest core, were busy; null: not known. */
  busy: z.object({
    drive: z.number().nullable(),
    core: z.number().nullable(),
    seconds: z.number(),
  }),
  /** Whether the machine runs on its battery; null where it has none, or does not say. */
  onBattery: Fact.nullable(),
  /** What quietly costs speed, as the system has it now. */
  quiet: z.array(Fact),
});
export type SeenAround = z.infer<typeof SeenAround>;
