import { areFarDrivesIdle, busiestDrive, isFarDriveFull } from "../../../run/far-host";
import { isHostFull } from "../../../run/host-load";
import { formatPercent } from "../../../units/number";
import type { Site } from "../../hypotheses/site";
import type { Observation } from "../observation";
import { signature, type Sign, type Signature } from "./sign";

/**
 * That a core of the far host had no time left. What serves less than the network carries has less to do: where
 * something else holds the flow back that shows less often than where nothing does.
 */
export const FAR_CORE: Sign = {
  chance: (site) => (site.kind === "farProcessor" ? null : 0.1),
  otherwise: 0.3,
};

/**
 * That a drive of the far host never stood idle, as its kernel counts (Documentation/admin-guide/iostats.rst,
 * field 10): it is slow itself, or what it hangs on there. Of one that takes single requests it may show also
 * where each has to wait for the network.
 */
export const FAR_DRIVE: Sign = {
  chance: ({ parts: [part, other], kind }: Site) => {
    if (kind === "fileSystem") return 0.3;
    if (other || !part) return null;
    return part.kind === "drive" ? 0.85 : part.kind === "network-box" ? 0.3 : null;
  },
  otherwise: 0.1,
};

/** What was seen of the machine that serves a rig's share, in most of its runs in which somebody looked. */
export function farHost({ rig, results = [], measurementIds }: Observation): Signature[] {
  const told = results.flatMap((result) => result.farHost ?? []);
  const [first] = told;
  if (!first) return [];
  const most = (of: readonly unknown[]) => of.length > told.length / 2;
  const full = most(told.filter(isHostFull));
  const busy = most(told.filter(isFarDriveFull));
  const idle = most(told.filter(areFarDrivesIdle));
  const drive = busiestDrive(first);
  const core = full
    ? [
        signature(FAR_CORE, rig, true, {
          text: `Core ${first.core!.number} of ${first.host}, the far host, was busy for ${formatPercent(first.core!.mean)} of the time.`,
          measurementIds,
        }),
      ]
    : [];
  if (!drive || (!busy && !idle)) return core;
  const text = busy
    ? `${drive.name} of ${first.host}, the far host, never stood idle.`
    : `No drive of ${first.host}, the far host, was busy for more than ${formatPercent(drive.busy)} of the time.`;
  const clears = idle ? [`part ${rig.parts.at(-1)!.id}`] : [];
  return [...core, { ...signature(FAR_DRIVE, rig, busy, { text, measurementIds }), clears }];
}
