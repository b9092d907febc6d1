import { execFileSync } from "node:child_process";
import { randomUUID } from "node:crypto";
import fs from "node:fs";
import os from "node:os";
import path from "node:path";

/** A real block device over a file, with a file system, and a throttle that the kernel enforces. */

/** Images lie in memory where they can, so that no other disk's pace shows through. */
const IMAGES = fs.existsSync("/dev/shm") ? "/dev/shm" : os.tmpdir();
const CGROUPS = "/sys/fs/cgroup/blkio";
const run = (command: string, ...args: string[]) =>
  execFileSync(command, args, { encoding: "utf8", stdio: ["ignore", "pipe", "pipe"] }).trim();

/** Why real devices cannot be used on this machine; null where they can. */
export function whyNoDevices(): string | null {
  if (process.platform !== "linux") return "needs Linux";
  if (process.getuid?.() !== 0) return "needs root";
  for (const tool of ["losetup", "mkfs.ext4", "mount"]) {
    try {
      run("which", tool);
    } catch {
      return `needs ${tool}`;
    }
  }
  try {
    const device = makeLoop(8);
    device.remove();
  } catch (error) {
    return `loop devices do not work here: ${String(error).split("\n")[0]}`;
  }
  return null;
}

/** Why the kernel's throttle cannot be used on this machine; null where it can. */
export function whyNoThrottle(): string | null {
  const file = path.join(CGROUPS, "blkio.throttle.read_bps_device");
  return whyNoDevices() ?? (fs.existsSync(file) ? null : "needs the blkio controller (cgroup v1)");
}

export interface LoopDevice {
  /** /dev/loopN */
  device: string;
  /** MAJOR:MINOR */
  number: string;
  remove(): void;
}

/**
 * @param mebibytes its size
 * @param images where the file lies that holds what is on it
 */
export function makeLoop(mebibytes: number, images = IMAGES): LoopDevice {
  const folder = fs.mkdtempSync(path.join(images, "nerrit-loop-"));
  const image = path.join(folder, "image");
  fs.writeFileSync(image, "");
  fs.truncateSync(image, mebibytes * 2 ** 20);
  const device = run("losetup", "--find", "--show", image);
  // Its number may have been another test's a moment ago, whose measuring process is still on its way out.
  const lock = `@nerrit/device/${path.basename(device)}\n`;
  for (let left = 600; left > 0 && fs.readFileSync("/proc/net/unix", "utf8").includes(lock); left--)
    run("sleep", "0.1");
  return {
    device,
    number: fs.readFileSync(`/sys/block/${path.basename(device)}/dev`, "utf8").trim(),
    remove() {
      run("losetup", "--detach", device);
      // Where the images' own file system has died, there is nothing left to remove.
      if (fs.existsSync(image)) fs.rmSync(folder, { recursive: true });
    },
  };
}

export interface Disk extends LoopDevice {
  /** Where its file system is mounted. */
  directory: string;
}

/** A loop device with an ext4 file system, mounted. */
export function makeDisk(mebibytes: number, images = IMAGES): Disk {
  const loop = makeLoop(mebibytes, images);
  // Not lazily: the kernel would go on writing tables in the background.
  const eager = "lazy_itable_init=0,lazy_journal_init=0";
  run("mkfs.ext4", "-q", "-F", "-m", "0", "-E", eager, loop.device);
  const directory = fs.mkdtempSync(path.join(os.tmpdir(), "nerrit-disk-"));
  run("mount", loop.device, directory);
  fs.rmSync(path.join(directory, "lost+found"), { recursive: true });
  return {
    ...loop,
    directory,
    remove() {
      try {
        run("umount", directory);
      } catch {
        run("umount", "--lazy", directory);
      }
      fs.rmSync(directory, { recursive: true, force: true });
      loop.remove();
    },
  };
}

/** Mounts a disk's file system again with other options. */
export const remount = (disk: Disk, options: string) =>
  run("mount", "-o", `remount,${options}`, disk.directory);

/** Takes a disk away while it is in use, as pulling its plug would. */
export const unmountLazily = (disk: Disk) => run("umount", "--lazy", disk.directory);

/** A group of processes whose traffic with one device the kernel holds to a rate. */
export class Throttle {
  private readonly group: string;

  constructor(private readonly device: LoopDevice) {
    this.group = path.join(CGROUPS, `nerrit-test-${randomUUID()}`);
    fs.mkdirSync(this.group);
  }

  /** @param mbps MB/s each way @param device another one than the throttle was made for */
  set(mbps: number, device = this.device): void {
    for (const way of ["read", "write"]) {
      fs.writeFileSync(
        path.join(this.group, `blkio.throttle.${way}_bps_device`),
        `${device.number} ${mbps * 1e6}`,
      );
    }
  }

  /** @param iops requests a second each way */
  setRequests(iops: number): void {
    for (const way of ["read", "write"]) {
      fs.writeFileSync(
        path.join(this.group, `blkio.throttle.${way}_iops_device`),
        `${this.device.number} ${iops}`,
      );
    }
  }

  /** Puts a process, and all that it has started or will start, into the group. */
  hold(pid: number): void {
    fs.writeFileSync(path.join(this.group, "cgroup.procs"), String(pid));
    const started = fs.readFileSync(`/proc/${pid}/task/${pid}/children`, "utf8");
    for (const child of started.split(" ").filter(Boolean)) this.hold(Number(child));
  }

  /** A command that begins another in the group, from its first request on: its words go before the other's. */
  get begin(): [string, ...string[]] {
    const words = 'echo $$ > "$0" && exec "$@"';
    return ["sh", "-c", words, path.join(this.group, "cgroup.procs")];
  }

  /** Lets go of a process. */
  free(pid: number): void {
    fs.writeFileSync(path.join(CGROUPS, "cgroup.procs"), String(pid));
  }

  /** Lets go of every process that is left, and waits for those on their way out. */
  remove(): void {
    for (let left = 100; left > 0; left--) {
      try {
        fs.rmdirSync(this.group);
        return;
      } catch (error) {
        if (left === 1) throw error;
        execFileSync("sleep", ["0.1"]);
      }
    }
  }
}
