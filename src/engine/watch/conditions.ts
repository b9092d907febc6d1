import type { Conditions } from "@/core/run/result";
import { machine, queueOf, quietAt } from "../surroundings/machine";

/**
 * The circumstances in which other programs are watched: the machine, and the device where it is one.
 *
 * @param device major:minor; null for a network interface
 * @param path of the device
 */
export async function watchedConditions(
  nerrit: string,
  name: string,
  device: string | null,
  path: string | null,
): Promise<Conditions> {
  return {
    ...machine(nerrit),
    ...(await queueOf(device)),
    target: path ?? name,
    targetKind: "device",
    fileSystem: null,
    mountOptions: null,
    deviceBytes: null,
    freeBytes: null,
    device: name,
    io: null,
    lane: null,
    notes: [],
    quiet: path ? await quietAt(path) : [],
  };
}
