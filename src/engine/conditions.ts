import os from "node:os";
import type { Step } from "@/core/drills/program";
import type { Conditions } from "@/core/drills/result";
import { deviceAttribute, wholeDevice } from "./device";
import type { Job } from "./protocol";
import type { Target } from "./target";
import { laneKind } from "./lanes";

/** Reads the circumstances of a run from the system; what is not to be had is null. */
export async function readConditions(
  job: Job,
  target: Target,
  notes: string[],
  fd: number | null,
): Promise<Conditions> {
  const whole = target.device && (await wholeDevice(target.device));
  const queue = (name: string) => (whole ? deviceAttribute(whole, `queue/${name}`) : null);
  const [scheduler, rotational, writeCache, limit] = await Promise.all(
    ["scheduler", "rotational", "write_cache", "max_sectors_kb"].map(queue),
  );
  return {
    startedAt: new Date().toISOString(),
    nerrit: job.nerrit,
    host: os.hostname(),
    kernel: os.release(),
    processor: os.cpus()[0]?.model ?? "unknown",
    cores: os.cpus().length,
    loadAtStart: os.loadavg()[0]!,
    target: target.path,
    targetKind: target.kind,
    fileSystem: target.mount?.type ?? null,
    mountOptions: target.mount?.options ?? null,
    device: target.deviceName,
    deviceBytes: target.deviceBytes,
    freeBytes: target.freeBytes,
    scheduler: scheduler ? (/\[(.+)\]/.exec(scheduler)?.[1] ?? scheduler) : null,
    rotational: rotational ? rotational === "1" : null,
    writeCache: writeCache ?? null,
    requestLimitBytes: limit ? Number(limit) * 1024 : null,
    io: job.io,
    lane: laneKind(...deepest(job.program), fd),
    simulated: false,
    notes,
  };
}

/** The most requests in flight that a program asks for; the way they are issued follows from it. */
const deepest = (program: readonly Step[]): [depth: number, block: number] => {
  const [most] = program
    .flatMap((step) => ("depth" in step ? step : []))
    .toSorted((a, b) => b.depth - a.depth);
  return [most?.depth ?? 1, most?.block ?? 4096];
};
