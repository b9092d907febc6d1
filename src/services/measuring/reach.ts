import type { EngineEvent } from "@/core/run/protocol";
import type { Touch } from "@/core/run/touch";
import type { HostRun } from "../hosts/engine-on";
import type { EngineProcess } from "./engine-process";
import type { FollowFar } from "./far-side";

/** What the desk reaches beside this machine's drives. */
export interface Reach {
  /** Where a recording lies; null where it is not here. */
  fileWith?: (sha256: string) => string | null;
  /** Starts a measuring process on a host, or finds one that was started before. */
  startOn?: (
    host: string,
    run: HostRun,
    tell: (event: EngineEvent) => void,
    touched: (touch: Touch) => void,
  ) => EngineProcess;
  followFar?: FollowFar;
  /** @throws Problem while no run may begin */
  assertFree?: () => void;
}
