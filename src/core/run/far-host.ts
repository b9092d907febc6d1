import * as z from "zod";
import { MOST_MBPS } from "../units/bounds";
import { formatPercent, type RateWords } from "../units/number";
import { HostLoad } from "./host-load";

const share = z.number().min(0).max(1);
const mbps = z.number().nonnegative().max(MOST_MBPS);
const name = z.string().min(1).max(80);

/** What a drive or an interface of a host moved: of a drive read and written, of an interface received and sent. */
const Moved = z.object({
  kind: z.enum(["device", "interface"]),
  read: mbps,
  written: mbps,
  /** Share of the time in which a drive had something to do; null where that is not counted. */
  busy: share.nullable(),
});
export type Moved = z.infer<typeof Moved>;

/** What the far host, which serves a share over the network, did in about a second of a run. */
export const FarReading = z.object({
  host: name,
  /** Of each core the hundredths of the time in which it was not idle. */
  cores: z.array(z.number().int().min(0).max(100)).max(1024),
  /** Share of its memory in use; null where that is not said. */
  memory: share.nullable(),
  /** By the kernel's name there. */
  moved: z.record(name, Moved),
});
export type FarReading = z.infer<typeof FarReading>;

/** What the far host did during a run, in the mean over its seconds. */
export const FarLoad = HostLoad.extend({ host: name, moved: z.record(name, Moved) });
export type FarLoad = z.infer<typeof FarLoad>;

/** From here on a drive had something to do all the time. */
const DRIVE_FULL = 0.95;
/** Up to here a drive stood idle for so long that it could have done clearly more. */
const DRIVE_IDLE = 0.5;

/** A drive of the far host and how busy it was. */
export interface FarDrive {
  name: string;
  busy: number;
}

/** The busiest drive of the far host; null where it counts none. */
export function busiestDrive({ moved }: Pick<FarLoad, "moved">): FarDrive | null {
  const drives = Object.entries(moved).flatMap(([drive, { kind, busy }]) =>
    kind === "device" && busy !== null ? [{ name: drive, busy }] : [],
  );
  return drives.toSorted((a, b) => b.busy - a.busy)[0] ?? null;
}

/** Whether a drive of the far host never stood idle, as far as its kernel counts. */
export const isFarDriveFull = (load: Pick<FarLoad, "moved">): boolean =>
  (busiestDrive(load)?.busy ?? 0) >= DRIVE_FULL;

/** Whether every drive of the far host had much time left: none of them held the run back. */
export const areFarDrivesIdle = (load: Pick<FarLoad, "moved">): boolean =>
  (busiestDrive(load)?.busy ?? 1) <= DRIVE_IDLE;

/** What the drives and interfaces of a far host moved, a line each, the busiest traffic first. */
export const movedLines = ({ moved }: Pick<FarLoad, "moved">, { said }: RateWords): string[] =>
  Object.entries(moved)
    .toSorted(([, a], [, b]) => b.read + b.written - a.read - a.written)
    .map(([what, { kind, read, written, busy }]) =>
      [
        kind === "device"
          ? `${what} read ${said(read)}, wrote ${said(written)}`
          : `${what} received ${said(read)}, sent ${said(written)}`,
        ...(busy === null ? [] : [`was busy ${formatPercent(busy)} of the time`]),
      ].join(", "),
    );
