import { isSameName } from "../units/host-name";
import { requestsKey } from "../drills/shape";
import type { FarLoad } from "../run/far-host";
import type { Observation } from "../study/measurement";
import type { Rig } from "../chain/rig";
import { mostCarried, type NetworkFigures } from "./figures";
import { networkOf } from "./network-alone";

/** The stages of a share, each with what it carried by itself, MB/s; null where that was not measured. */
export interface ShareStages {
  farHost: string;
  network: number | null;
  /** The share's drive in a rig on the far host. */
  drive: { mbps: number; rig: Rig } | null;
  share: number;
  /** The far host's busiest core during the latest run of the share that it was looked at in. */
  core: FarLoad["core"];
}

/**
 * What is known of the stages of a share by themselves.
 *
 * @param seen of the share
 * @param others of the same study
 * @returns null where no machine is named that serves it, or the drill goes both ways
 */
export function shareStages(
  { rig, drill, repeats, results }: Observation,
  others: readonly Observation[],
  networks: readonly NetworkFigures[],
): ShareStages | null {
  const { farHost = "" } = rig;
  const { direction } = drill;
  if (!farHost || direction === "mixed") return null;
  const alone = networkOf(rig, networks);
  const drive = rig.parts.at(-1)?.id;
  const there = others
    .filter(
      (one) =>
        isSameName(one.rig.host, farHost) &&
        one.rig.parts.at(-1)?.id === drive &&
        one.drill.direction === direction &&
        requestsKey(one.drill) === requestsKey(drill),
    )
    .toSorted((a, b) => b.repeats.median - a.repeats.median)[0];
  return {
    farHost,
    network: (alone && mostCarried(alone, direction)?.median) ?? null,
    drive: there ? { mbps: there.repeats.median, rig: there.rig } : null,
    share: repeats.median,
    core: results.findLast(({ farHost: load }) => load)?.farHost?.core ?? null,
  };
}
