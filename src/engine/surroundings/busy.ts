import { readCoreTimes } from "../processor";
import { busiestCore } from "@/core/system/core-times";
import { deviceAttribute, wholeDevice, type DeviceNumber } from "../target/device";

/** How long a drive and the processor are looked at, seconds. */
export const LOOK_SECONDS = 1;

/**
 * How busy a drive and the processor are while nothing of Nerrit's runs: the drive by the time it had
 * requests (field 10 of its stat file, Documentation/block/stat.rst), the processor by its busiest core.
 *
 * @returns shares of the time that was looked at, 0 to 1; null where the kernel does not say
 */
export async function lookForBusiness(
  device: DeviceNumber | null,
): Promise<{ drive: number | null; core: number | null; seconds: number }> {
  const whole = device && (await wholeDevice(device));
  const [ticks, cores, from] = [await busyTicks(whole), readCoreTimes(), performance.now()];
  await new Promise((resolve) => setTimeout(resolve, LOOK_SECONDS * 1000));
  const [after, coresAfter, ms] = [
    await busyTicks(whole),
    readCoreTimes(),
    performance.now() - from,
  ];
  return {
    drive: ticks === null || after === null ? null : Math.min(1, (after - ticks) / ms),
    core: busiestCore(cores, coresAfter),
    seconds: LOOK_SECONDS,
  };
}

/** Milliseconds that a device has had requests, since it appeared. */
async function busyTicks(device: DeviceNumber | null): Promise<number | null> {
  const fields = device ? (await deviceAttribute(device, "stat"))?.split(/\s+/) : null;
  return fields?.[9] === undefined ? null : Number(fields[9]);
}
