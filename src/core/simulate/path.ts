import { canQueue } from "../chain/predict";
import { requestTimes } from "../chain/request-time";
import type { Rig } from "../chain/rig";
import type { Stage } from "../chain/stage";
import { stagesOf } from "../chain/stages";
import type { Direction } from "../units/rate";
import { at } from "./drive";
import { Thermal } from "./heat";
import { PartModel, type Simulation } from "./model";
import { hash, seeded } from "./noise";

/** What everything on the way from the host to the drive's plug lets through in one direction. */
export interface Path {
  /** No link on the way carries more, MB/s; what is measured is held below it. */
  ceiling: number;
  /** What the path gives on a quiet bench, MB/s. */
  level: number;
  /** Time per request beside the drive's, µs. */
  overheadUs: number;
  /** Lets so many bytes and requests a second through, and holds no single one back. */
  meter: { mbps: number; iops: number };
}

/** A path each way, and what of it changes while data passes. */
export interface Way {
  read: Path;
  write: Path;
  queued: boolean;
  /** Parts on the way that slow down when they are hot. */
  thermals: { name: string; thermal: Thermal }[];
}

/**
 * Where in its attainable band a link settles: a property of its two ends, the same at every run. Held
 * off the band's edges, where only the best and the worst hardware is.
 */
const settles = (stage: Stage) =>
  0.55 + 0.4 * seeded(hash(`${stage.part.id} ${stage.role} ${stage.direction}`))();

/** A part that cannot exceed a rate settles just below it, so that it is not exceeded a moment later. */
export const AT_LIMIT = 0.985;

/**
 * The way from the host to a rig's drive as it runs.
 *
 * @param rig with its faults applied (`asItRuns`)
 * @param above takes only what stands above the drives' bays: what they share
 */
export function wayOf(rig: Rig, { bench, parts, faults }: Simulation, above = false): Way {
  const kept = faults.reduce(
    (share, fault) => share * (fault.kind === "file-system" ? fault.share : 1),
    bench.fileSystem.share,
  );
  const path = (direction: Direction): Path => {
    const stages = stagesOf(rig, direction).filter(
      ({ role, part }) => part.kind !== "drive" && !(above && ["slot", "disk side"].includes(role)),
    );
    const model = (id: string) => parts[id] ?? NO_MODEL;
    const limits = stages.map(({ part }) => model(part.id).limits[direction] ?? Infinity);
    const ceiling = Math.min(...stages.map((stage) => stage.ceiling), ...limits);
    const levels = stages.map(({ attainable: { low, high }, ...stage }) =>
      stage.cause.kind === "limit" ? high * AT_LIMIT : low + (high - low) * settles(stage as Stage),
    );
    const meters = rig.parts.map(({ id }) => model(id).meter ?? {});
    const own = requestTimes({ ...rig, parts: rig.parts.map(untimed) }, direction);
    const hidden = rig.parts.filter(({ kind }) => kind !== "drive").map(({ id }) => model(id));
    return {
      ceiling: Number.isFinite(ceiling) ? ceiling : 0,
      level: Math.min(...levels, ...limits.map((limit) => limit * AT_LIMIT)) * kept,
      overheadUs:
        own.reduce((sum, { us }) => sum + us, 0) +
        hidden.reduce((sum, { requestUs }) => sum + (requestUs[direction] ?? 0), 0) +
        bench.fileSystem.requestUs,
      meter: {
        mbps: Math.min(...meters.map(({ mbps = Infinity }) => mbps)),
        iops: Math.min(...meters.map(({ iops = Infinity }) => iops)),
      },
    };
  };
  return {
    read: path("read"),
    write: path("write"),
    queued: canQueue(rig) && !faults.some(({ kind }) => kind === "unqueued"),
    thermals: rig.parts
      .filter(({ kind }) => kind !== "drive")
      .flatMap(({ id, name }) => {
        const bare = faults.some((f) => f.kind === "no-heat-pad" && at(f) === id);
        const thermal = Thermal.of(parts[id]?.heat, bare, bench.ambientCelsius);
        return thermal ? [{ name, thermal }] : [];
      }),
  };
}

/** The drive's own time is the simulated drive's to say. */
const untimed = <P extends { kind: string }>(part: P): P =>
  part.kind === "drive" ? { ...part, requestUs: {} } : part;

const NO_MODEL = PartModel.parse({});
