import { ladderBy } from "../drills/catalogue";
import type { Observation } from "../study/measurement";
import type { Answering, RigAnswering } from "./predict";

type Seen = Pick<Observation, "drill" | "results" | "doubtful">;

/**
 * How quickly a rig answers, by the ladders that it was measured with.
 *
 * @param seen of the rig, the latest first
 */
export const answeringOf = (seen: readonly Seen[]): RigAnswering => ({
  read: oneWay(seen, "read"),
  write: oneWay(seen, "write"),
});

function oneWay(seen: readonly Seen[], direction: "read" | "write"): Answering | null {
  const fitOf = (by: "block" | "depth") => {
    const { name } = ladderBy(by);
    const ladder = seen.find(
      ({ drill, doubtful }) => drill.name === name && drill.direction === direction && !doubtful,
    );
    return ladder?.results.findLast(({ fit }) => fit?.by === by)?.fit ?? null;
  };
  const [block, depth] = [fitOf("block"), fitOf("depth")];
  if (block?.by !== "block" || block.asymptoteMBps <= 0) return null;
  return {
    overheadUs: block.overheadUs,
    mbps: block.asymptoteMBps,
    mostIops: depth?.by === "depth" && depth.plateauIops > 0 ? depth.plateauIops : null,
    worst: block.worst,
  };
}
