import { isSameName } from "../units/host-name";
import { modesOn, PartDraft, type Part } from "../chain/part";
import { BARE_RIG, type Rig } from "../chain/rig";
import { kindOf } from "../drills/drill";
import { requestsKey } from "../drills/shape";
import type { Observation } from "../study/measurement";
import { withoutRun } from "../study/without-run";
import type { Direction } from "../units/rate";
import { isProcessorFull, mostCarried, type NetworkFigures } from "./figures";

/** The rig of a network by itself: everything up to the far host, whose memory stands in place of what it serves. */
export function networkRig(rig: Rig): Rig {
  const box = rig.parts.findIndex(({ kind }) => kind === "network-box");
  const end = box < 0 ? rig.parts.length - 1 : box;
  return {
    ...BARE_RIG,
    id: `network ${rig.id}`,
    name: `Network to ${rig.farHost} alone`,
    host: rig.host,
    farHost: rig.farHost,
    assumptions: rig.assumptions,
    parts: [...rig.parts.slice(0, end), memoryOf(rig.farHost, rig.parts[end]!)],
  };
}

/** Memory outruns every network: no limit of its own is looked for in it. */
const MEMORY_MBPS = 1e5;

/** The memory of a far host, reached through the same plug as what the host serves. */
const memoryOf = (host: string, behind: Part): Part => ({
  ...PartDraft.parse({
    kind: "drive",
    name: `the memory of ${host}`.slice(0, 80),
    connectors: [{ side: "up", modes: [...modesOn(behind, "up")] }],
    limits: { read: MEMORY_MBPS, write: MEMORY_MBPS },
  }),
  id: `memory of ${host}`,
});

/** Whether a network is the one that a rig goes over: to its far host, from the computer that it names, if it does. */
const isOf = ({ from, to }: NetworkFigures, { host, farHost }: Rig): boolean =>
  Boolean(farHost) && isSameName(to, farHost) && (host === "" || isSameName(host, from));

/** What was measured last of the network that a rig goes over; null where nothing was. */
export const networkOf = (rig: Rig, networks: readonly NetworkFigures[]): NetworkFigures | null =>
  networks.find((one) => isOf(one, rig)) ?? null;

/**
 * What networks carried by themselves, as observations beside those of rigs that go over them: each of large
 * requests, in the drills and ways in which such a rig was observed.
 *
 * @param seen of rigs with parts of their own
 * @param networks the latest first
 */
export function networksSeen(
  seen: readonly Observation[],
  networks: readonly NetworkFigures[],
): Observation[] {
  const found = new Map<string, Observation>();
  for (const { rig, drill, origin } of networks.length > 0 ? seen : []) {
    const direction = drill.direction;
    if (direction === "mixed" || origin === "simulated" || !isPeak(drill)) continue;
    const alone = networkOf(rig, networks);
    const repeats = alone && mostCarried(alone, direction satisfies Direction);
    // A processor that had no time left says nothing of the network.
    if (!repeats || isProcessorFull(alone, direction)) continue;
    const own = networkRig(rig);
    const key = [own.parts.map(({ id }) => id), requestsKey(drill), direction].join("|");
    if (found.has(key)) continue;
    found.set(key, withoutRun(own, drill, repeats));
  }
  return [...found.values()];
}

const isPeak = (drill: Observation["drill"]): boolean => kindOf(drill).shows.includes("peak");
