import fs from "node:fs";
import { createRequire } from "node:module";

/** Places in a transfer's slot: offset in, bytes moved (or minus the error number) and time out. */
export const OFFSET = 0;
export const MOVED = 1;
export const NANOSECONDS = 2;

/** Moves one block at slot[OFFSET]; what happened is in the slot afterwards. Never throws. */
export type Transfer = () => void;

type OpenLane = (fd: number, writing: boolean, data: Uint8Array, slot: Float64Array) => Transfer;

let native: { openLane: OpenLane } | null | undefined;

/** The compiled request path, or null where it could not be built (no C compiler). */
function loadNative(): { openLane: OpenLane } | null {
  if (native === undefined) {
    try {
      const load = createRequire(import.meta.url);
      native = process.env.NERRIT_LANE === "portable" ? null : load("./transfer.node");
    } catch {
      native = null;
    }
  }
  return native!;
}

/** Which request path this machine has; NERRIT_LANE=portable forces the runtime's own. */
export const laneKind = (): "native" | "portable" => (loadNative() ? "native" : "portable");

/**
 * Prepares one lane's transfer of a fixed block.
 *
 * @param data the block, page-aligned for direct I/O
 * @param slot three numbers shared between the lane and its transfer
 */
export function openTransfer(
  fd: number,
  writing: boolean,
  data: Uint8Array,
  slot: Float64Array,
): Transfer {
  const compiled = loadNative();
  if (compiled) return compiled.openLane(fd, writing, data, slot);
  return () => {
    const start = performance.now();
    try {
      slot[MOVED] = writing
        ? fs.writeSync(fd, data, 0, data.byteLength, slot[OFFSET]!)
        : fs.readSync(fd, data, 0, data.byteLength, slot[OFFSET]!);
    } catch (error) {
      slot[MOVED] = (error as NodeJS.ErrnoException).errno ?? -5;
    }
    slot[NANOSECONDS] = (performance.now() - start) * 1e6;
  };
}
