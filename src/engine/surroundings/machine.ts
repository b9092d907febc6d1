import os from "node:os";
import type { Conditions } from "@/core/run/result";
import { deviceAttribute, wholeDevice } from "../target/device";
import { probe } from "../probe/probe";
import { SystemTree } from "../probe/tree";
import { quietFacts } from "./quiet";

/** The machine, as a run keeps it. @param nerrit its version */
export const machine = (nerrit: string) => ({
  startedAt: new Date().toISOString(),
  nerrit,
  host: os.hostname(),
  kernel: os.release(),
  processor: os.cpus()[0]?.model ?? "unknown",
  cores: os.cpus().length,
  loadAtStart: os.loadavg()[0]!,
});

/** How the kernel queues requests for a device. */
export async function queueOf(
  device: string | null,
): Promise<Pick<Conditions, "scheduler" | "rotational" | "writeCache" | "requestLimitBytes">> {
  const whole = device && (await wholeDevice(device));
  const [scheduler, rotational, writeCache, limit] = await Promise.all(
    ["scheduler", "rotational", "write_cache", "max_sectors_kb"].map((name) =>
      whole ? deviceAttribute(whole, `queue/${name}`) : null,
    ),
  );
  return {
    scheduler: scheduler ? (/\[(.+)\]/.exec(scheduler)?.[1] ?? scheduler) : null,
    rotational: rotational ? rotational === "1" : null,
    writeCache: writeCache ?? null,
    requestLimitBytes: limit ? Number(limit) * 1024 : null,
  };
}

/** What quietly costs speed on the way to a target; nothing where the way cannot be seen. */
export async function quietAt(target: string): Promise<Conditions["quiet"]> {
  try {
    return await quietFacts(new SystemTree(), await probe(target));
  } catch {
    return [];
  }
}
