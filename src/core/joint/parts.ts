import type { Flow } from "../run/program";
import type { Job } from "../run/protocol";
import type { Place } from "../units/place";

/** What one machine does of a run that goes on on several at once. */
export interface Part {
  /** Null for this machine. */
  host: string | null;
  /** Its places, by their number in the whole run. */
  targets: number[];
  job: Job;
}

/** The machines that places are on, in the order in which they are named. */
export const hostsOf = (places: readonly Place[]): (string | null)[] => [
  ...new Set(places.map(({ host }) => host)),
];

/**
 * Takes a run on several machines apart, a part for each: its own drives begin when they would in the whole run, and
 * all parts end together.
 *
 * @param places of the job's targets
 * @throws RangeError where the run is more than one flow over all its drives
 */
export function partsOf(job: Job, places: readonly Place[]): Part[] {
  const flow = jointFlow(job);
  const joins = places.map((_, i) => i * flow.everySeconds);
  return hostsOf(places).map((host) => {
    const targets = places.flatMap((place, i) => (place.host === host ? [i] : []));
    const own = targets.map((i) => joins[i]!);
    const later = joins.at(-1)! - own.at(-1)!;
    const step: Flow = {
      ...flow,
      targets: targets.map((_, i) => i),
      joins: own,
      seconds: flow.seconds === null ? null : flow.seconds + later,
    };
    return {
      host,
      targets,
      job: {
        ...job,
        targets: targets.map((i) => places[i]!.path),
        program: [step],
        keepOff: host === null ? job.keepOff : null,
        gated: true,
      },
    };
  });
}

/** The one flow of a run on several machines. @throws RangeError where there is anything beside it */
export function jointFlow({ program, targets }: Pick<Job, "program" | "targets">): Flow {
  const [flow] = program;
  if (program.length !== 1 || flow?.do !== "flow" || flow.targets.length !== targets.length)
    throw new RangeError("on several machines at once, only flows over all drives can be measured");
  return flow;
}
