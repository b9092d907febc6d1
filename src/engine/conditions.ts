import os from "node:os";
import type { Conditions } from "@/core/drills/result";
import { deviceAttribute, wholeDevice } from "./device";
import type { Job } from "./protocol";
import type { Target } from "./target";
import { laneKind } from "./transfer";

/** Reads the circumstances of a run from the system; what is not to be had is null. */
export async function readConditions(job: Job, target: Target): Promise<Conditions> {
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
    lane: laneKind(),
    simulated: false,
  };
}
