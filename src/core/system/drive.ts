import * as z from "zod";

/** What the system has plugged in: drives and shares, each with where a run could be done on it. */

/** A place on a drive that can be measured. */
export const DrivePlace = z.object({
  /** The block device: "/dev/sda1"; of a share what it comes from. */
  device: z.string(),
  /** Where it is mounted; null where it is not. */
  point: z.string().nullable(),
  fileSystem: z.string().nullable(),
  bytes: z.number().nullable(),
  readOnly: z.boolean(),
});
export type DrivePlace = z.infer<typeof DrivePlace>;

export const SeenDrive = z.object({
  /** The host that it is plugged in at; left out for this machine. */
  host: z.string().optional(),
  /** The kernel's name, or of a share where it is mounted. */
  id: z.string(),
  kind: z.enum(["disk", "loop", "memory", "raid", "volume", "share"]),
  name: z.string(),
  maker: z.string().nullable(),
  model: z.string().nullable(),
  serial: z.string().nullable(),
  /** Serial numbers of everything on the way to it, its own included. */
  serials: z.array(z.string()),
  bytes: z.number().nullable(),
  /** What it hangs on, nearest first: "USB bridge, hub, USB socket". */
  hangsOn: z.string(),
  /** How fast the link to it runs, as the system says, and Nerrit's mode for it. */
  link: z.object({ mode: z.string().nullable(), now: z.string() }).nullable(),
  rotational: z.boolean().nullable(),
  removable: z.boolean(),
  readOnly: z.boolean(),
  /** What the running system itself lies on. */
  system: z.boolean(),
  /** Device that uses it beside its mounts: a RAID, a volume, swap. */
  heldBy: z.array(z.string()),
  places: z.array(DrivePlace),
});
export type SeenDrive = z.infer<typeof SeenDrive>;

/** The paths by which a drive can be asked for, the best first: where it is mounted, then the device. */
export const pathsOf = ({ kind, places }: SeenDrive): string[] => [
  ...places.flatMap(({ point }) => point ?? []),
  ...(kind === "share" ? [] : places.map(({ device }) => device)),
];

/** Whether anything uses it now. */
export const inUse = ({ places, heldBy }: SeenDrive): boolean =>
  heldBy.length > 0 || places.some(({ point }) => point !== null);

const KINDS: Record<SeenDrive["kind"], string> = {
  disk: "",
  loop: "a file as a drive",
  memory: "memory, not a drive",
  raid: "several drives as one",
  volume: "a volume on other drives",
  share: "over the network",
};

/** What is worth saying of a drive in a list beside its name, size and link. */
export function driveMarks(drive: SeenDrive): string[] {
  return [
    KINDS[drive.kind],
    drive.system ? "the system’s own" : "",
    drive.rotational ? "spinning" : "",
    drive.readOnly ? "read only" : "",
    ...drive.heldBy.map((what) => `held by ${what}`),
    inUse(drive) ? "" : "not in use",
  ].filter(Boolean);
}
