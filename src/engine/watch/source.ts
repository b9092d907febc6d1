import path from "node:path";
import type { Count } from "@/core/watch/tally";
import { numberOf } from "../probe/blocks";
import type { SystemTree } from "../probe/tree";
import { Refusal } from "../refusal";

/** Something whose traffic the kernel counts: a block device or a network interface. */
export interface Source {
  name: string;
  kind: "device" | "interface";
  /** Of a device: major:minor. */
  number: string | null;
  /** What it has moved since it appeared; null where it is gone. */
  count(): Promise<Count | null>;
}

/** The unit of the kernel's counters, whatever the device's own sector (Documentation/block/stat.rst). */
const SECTOR = 512;

/**
 * Finds what is to be watched by its name or path: "sdb", "/dev/sdb1", "eth0".
 *
 * @throws Refusal where there is no such device or interface
 */
export async function findSource(tree: SystemTree, name: string): Promise<Source> {
  const number = await numberOf(tree, name.startsWith("/") ? name : `/dev/${name}`);
  if (number) {
    const file = `/sys/dev/block/${number}/stat`;
    return {
      name: path.basename(name),
      kind: "device",
      number,
      async count() {
        // Fields 1 and 5: requests that ended; 3 and 7: sectors; 10: milliseconds with any under way.
        const fields = ((await tree.read(file)) ?? "").trim().split(/\s+/).map(Number);
        if (fields.length < 10) return null;
        return {
          read: fields[2]! * SECTOR,
          written: fields[6]! * SECTOR,
          requests: fields[0]! + fields[4]!,
          busyMs: fields[9]!,
        };
      },
    };
  }
  const statistics = `/sys/class/net/${name}/statistics`;
  if (!name.includes("/") && (await tree.has(statistics))) {
    const bytes = async (file: string) => {
      const text = await tree.read(`${statistics}/${file}`);
      return text === null ? null : Number(text);
    };
    return {
      name,
      kind: "interface",
      number: null,
      async count() {
        const [read, written] = [await bytes("rx_bytes"), await bytes("tx_bytes")];
        if (read === null || written === null) return null;
        return { read, written, requests: 0, busyMs: null };
      },
    };
  }
  throw new Refusal(
    "no-such-target",
    `The system counts nothing for ${name}: it is no block device and no network interface. nerrit drives lists what is there.`,
  );
}
