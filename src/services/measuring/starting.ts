import { hostsOf } from "@/core/joint/parts";
import type { EngineEvent, Job, Sweep } from "@/core/run/protocol";
import type { Place } from "@/core/units/place";
import type { HostRun } from "../hosts/engine-on";
import { startEngine, type EngineProcess } from "./engine-process";
import { startTogether } from "./together";

/** How measuring processes are started. */
export interface Starting {
  /** The bundled measuring process of this machine; left out for the usual one. */
  engineFile?: string;
  /** Starts a run on a host, or finds it again there. */
  onHost(host: string, run: HostRun, tell: (event: EngineEvent) => void): EngineProcess;
}

/** Starts a measuring process on a machine. @param host null for this one */
export const startOn = (
  host: string | null,
  { id, job }: { id: string; job: Job | Sweep },
  tell: (event: EngineEvent) => void,
  { engineFile, onHost }: Starting,
): EngineProcess =>
  host === null ? startEngine(job, tell, engineFile) : onHost(host, { id, job }, tell);

/** Starts a run on the machines that its places are on. */
export function startRun(
  id: string,
  job: Job,
  places: readonly Place[],
  tell: (event: EngineEvent) => void,
  starting: Starting,
): EngineProcess {
  const on = (host: string | null, own: Job, heard: typeof tell) =>
    // Nerrit's own data lies on no host.
    startOn(host, { id, job: host === null ? own : { ...own, keepOff: null } }, heard, starting);
  const [host = null, ...others] = hostsOf(places);
  if (others.length === 0) return on(host, job, tell);
  return startTogether(job, places, (part, heard) => on(part.host, part.job, heard), tell);
}

/** Ends a part of a run on several machines that goes on on a host after the server that began it. */
export async function endRunOn(host: string, id: string, { onHost }: Starting): Promise<void> {
  const found = onHost(host, { id, job: null }, () => undefined);
  found.stop();
  await found.ended;
}
