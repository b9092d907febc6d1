import type { Step } from "@/core/run/program";
import type { Conditions } from "@/core/run/result";
import type { Job } from "@/core/run/protocol";
import { ballastAbove } from "./ballast/held";
import type { Target } from "./target/target";
import { laneKind } from "./lanes/lanes";
import { machine, queueOf, quietAt } from "./surroundings/machine";

/** Reads the circumstances of a run from the system; what is not to be had is null. */
export async function readConditions(
  job: Job,
  target: Target,
  notes: string[],
  fd: number | null,
  busiestCoreBefore: number | null,
): Promise<Conditions> {
  const ballast =
    target.kind === "directory"
      ? await ballastAbove(target.path, target.mount?.point ?? null)
      : null;
  return {
    ...machine(job.nerrit),
    busiestCoreBefore,
    ...(await queueOf(target.device)),
    target: target.path,
    targetKind: target.kind,
    fileSystem: target.mount?.type ?? null,
    mountOptions: target.mount?.options ?? null,
    device: target.deviceName,
    deviceBytes: target.deviceBytes,
    freeBytes: target.freeBytes,
    totalBytes: target.totalBytes,
    ...(ballast && { ballast }),
    io: job.io,
    lane: laneKind(...deepest(job.program), fd),
    notes,
    quiet: await quietAt(target.path),
  };
}

/** The most requests in flight that a program asks for; the way they are issued follows from it. */
const deepest = (program: readonly Step[]): [depth: number, block: number] => {
  const [most] = program
    .flatMap((step) => ("depth" in step ? step : []))
    .toSorted((a, b) => b.depth - a.depth);
  return [most?.depth ?? 1, most?.block ?? 4096];
};
