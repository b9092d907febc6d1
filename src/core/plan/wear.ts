import { bottleneckOf } from "../chain/bottleneck";
import type { Part } from "../chain/part";
import type { Rig } from "../chain/rig";
import { programOf, type Drill } from "../drills/drill";
import { laidOutBytes, type Step } from "../run/program";
import { formatPercent } from "../units/number";
import { formatSize } from "../units/size";

/** What a plan writes to one drive, bytes at most. */
export interface DriveWear {
  drive: Part;
  bytes: number;
  /** Of what may be written to it by its data sheet; null where that is not known. */
  share: number | null;
}

/** Bytes that a step writes at most, where its rate has a ceiling. @param mbps writing */
function stepBytes(step: Step, mbps: number): number {
  if (step.do === "copy") {
    if (step.to === null || !step.mix) return 0;
    return step.mix.reduce((sum, { files, bytes }) => sum + files * bytes, 0);
  }
  if (step.do === "replay") return step.written;
  if (step.do !== "flow" || step.writeShare === 0) return 0;
  const timed = step.seconds === null ? step.span : (step.leadIn + step.seconds) * mbps * 1e6;
  const rounds = step.steady ? step.steady.roundSeconds * step.steady.most * mbps * 1e6 : 0;
  return step.writeShare * step.targets.length * Math.max(step.bytes ?? timed, rounds);
}

/**
 * Bytes that one run of a drill writes at most: its data laid out first, then what its steps write at the
 * rate that the rig's path carries. What a folder of the tester's own holds is not known here.
 *
 * @param mbps the most that the rig writes
 */
export function runBytes(drill: Drill, mbps: number): number {
  const program = programOf(drill);
  return program.reduce((sum, step) => sum + stepBytes(step, mbps), laidOutBytes(program));
}

/**
 * What a plan writes to each drive at most, the most first.
 *
 * @param times how often each drill is done on each rig
 */
export function wearOf(rigs: readonly Rig[], drills: readonly Drill[], times: number): DriveWear[] {
  const written = new Map<string, DriveWear>();
  for (const rig of rigs) {
    const drive = rig.parts.at(-1);
    const ceiling = bottleneckOf(rig, "write")?.ceiling;
    if (!drive || ceiling === undefined) continue;
    const bytes = times * drills.reduce((sum, drill) => sum + runBytes(drill, ceiling), 0);
    const sum = (written.get(drive.id)?.bytes ?? 0) + bytes;
    const share = drive.enduranceBytes === null ? null : sum / drive.enduranceBytes;
    written.set(drive.id, { drive, bytes: sum, share });
  }
  return [...written.values()].sort((a, b) => b.bytes - a.bytes);
}

/** In words: "writes at most 96 GB to Talus, 0.02 % of its rated endurance"; empty where nothing is written. */
export function wearWords(wear: readonly DriveWear[]): string {
  const said = wear
    .filter(({ bytes }) => bytes > 0)
    .map(({ drive, bytes, share }) => {
      const size = formatSize(Number(bytes.toPrecision(2)), 1000);
      const of = share === null ? "" : `, ${formatPercent(share)} of its rated endurance`;
      return `${size} to ${drive.name}${of}`;
    });
  return said.length === 0 ? "" : `writes at most ${said.join("; ")}`;
}
