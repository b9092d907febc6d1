import fs from "node:fs";
import path from "node:path";
import type { Native } from "../lanes/native";
import { Refusal } from "../refusal";
import { bytesMoved, type DeviceCount } from "../target/device";
import { Recorder } from "./recorder";
import type { Source } from "./source";
import { firstPoint, openTrace } from "./trace-instance";

/**
 * Every request that reaches a block device.
 *
 * Trace points tell of requests (include/trace/events/block.h) as they come to the device, and as they are answered.
 * What is answered has its final size: until then requests that lie side by side may be joined.
 *
 * @throws Refusal where there is no such device, no right to record it, or a kernel that tells nothing
 */
export async function deviceSource(place: string, native: Native): Promise<Source> {
  const { name, number } = blockDevice(place);
  const points = [
    firstPoint("block/block_io_start", "block/block_rq_issue"),
    firstPoint("block/block_rq_complete"),
  ].flatMap((point) => point ?? []);
  if (points.length < 2)
    throw new Refusal("unsupported", "This kernel tells nothing of requests to block devices.");
  const filter = `dev == ${kernelNumber(number)}`;
  const trace = openTrace(
    points.map((point) => ({ name: point, filter })),
    null,
  );
  const [start, done] = points.map((point) => trace.formats.get(point)!);
  const before = await bytesMoved(number);
  const beganNs = Number(process.hrtime.bigint());
  const recorder = new Recorder(
    native,
    { start: start!, done: done!, pipes: trace.pipes },
    beganNs,
  );
  const attribute = (file: string) => {
    try {
      return fs.readFileSync(`/sys/class/block/${name}/${file}`, "utf8").trim();
    } catch {
      return null;
    }
  };
  const sectors = attribute("size");
  return {
    beganNs,
    head: {
      device: `/dev/${name}`,
      drive: attribute("device/model"),
      deviceBytes: sectors === null ? null : Number(sectors) * 512,
      points: points.map((point) => path.basename(point)),
    },
    drain: () => recorder.drain(),
    end: () => recorder.end(),
    newPrograms: () => recorder.newPrograms(),
    gone: () =>
      fs.existsSync(`/sys/class/block/${name}`)
        ? null
        : `${place} went away while it was recorded.`,
    missing: () => null,
    async counted() {
      const after = await bytesMoved(number);
      return before && after ? movedBetween(before, after) : null;
    },
    lost: trace.lost,
    stop: trace.stop,
    remove: trace.remove,
  };
}

const movedBetween = (before: DeviceCount, after: DeviceCount) => ({
  read: Math.max(0, after.read - before.read),
  written: Math.max(0, after.written - before.written),
});

/** A whole drive: "sdb", "8:16". */
interface Device {
  name: string;
  number: string;
}

/** The drive of a block device by its path. @throws Refusal where there is none */
function blockDevice(device: string): Device {
  const found = fs.statSync(device, { throwIfNoEntry: false });
  if (!found)
    throw new Refusal(
      "no-such-target",
      `There is no ${device}. nerrit drives lists what is plugged in.`,
    );
  if (!found.isBlockDevice())
    throw new Refusal(
      "not-a-target",
      `${device} is neither a block device nor a folder. Requests are recorded as they reach a device, for example /dev/sdb; calls by the folder that they go to.`,
    );
  // Requests to a partition reach its whole drive, and are told of as the drive's.
  const own = fs.realpathSync(`/sys/class/block/${path.basename(fs.realpathSync(device))}`);
  const name = path.basename(fs.existsSync(`${own}/partition`) ? path.dirname(own) : own);
  // A device without queues of requests hands on what it is asked for as it comes (Documentation/block/blk-mq.rst).
  if (!fs.existsSync(`/sys/class/block/${name}/mq`))
    throw new Refusal("unsupported", beneath(name));
  const number = fs.readFileSync(`/sys/class/block/${name}/dev`, "utf8").trim();
  return { name, number };
}

/** Why a device has no requests of its own, and which drives have them. */
function beneath(name: string): string {
  const folder = `/sys/class/block/${name}/slaves`;
  const drives = fs.existsSync(folder) ? fs.readdirSync(folder).map((one) => `/dev/${one}`) : [];
  const why = `/dev/${name} has no requests of its own, so nothing would be recorded.`;
  return drives.length > 0 ? `${why} Record what lies beneath: ${drives.join(" or ")}.` : why;
}

/** A device's number as the kernel itself counts (MKDEV in include/linux/kdev_t.h). */
function kernelNumber(number: string): number {
  const [major, minor] = number.split(":").map(Number) as [number, number];
  return major * 2 ** 20 + minor;
}
