import fs from "node:fs/promises";
import path from "node:path";
import type { Fact, SystemReport } from "@/core/system/system-report";
import { systemCode } from "../refusal";

type Gap = SystemReport["gaps"][number];

/**
 * The kernel's own tree of files (sysfs and procfs) below some root: "/" for this machine, or a
 * directory of plain files in the same shape. Paths are given and reported as they are on a machine,
 * "/sys/...", whatever the root.
 *
 * A file that is not there is no error: the kernel leaves out what does not apply. One that is there
 * and cannot be read is remembered as a gap.
 */
export class SystemTree {
  readonly gaps: Gap[] = [];

  /** Whether drives are left in peace: nothing is read that the kernel would have to ask them for. */
  readonly quiet: boolean;

  constructor(
    readonly root: string = "/",
    { quiet = false } = {},
  ) {
    this.quiet = quiet;
  }

  private place(file: string): string {
    return path.join(/* turbopackIgnore: true */ this.root, file);
  }

  /** One attribute, trimmed; null where it is not there or cannot be read. */
  async read(file: string): Promise<string | null> {
    return (await this.bytes(file))?.toString("utf8").trim() ?? null;
  }

  /** One attribute as bytes; null where it is not there or cannot be read. */
  async bytes(file: string): Promise<Buffer | null> {
    try {
      return await fs.readFile(this.place(file));
    } catch (error) {
      this.note(file, error);
      return null;
    }
  }

  private note(file: string, error: unknown): void {
    const code = systemCode(error);
    if (code === "ENOENT" || code === "ENOTDIR" || code === "EISDIR") return;
    this.miss(path.basename(file), file, WHY[code ?? ""] ?? `reading it failed (${code ?? error})`);
  }

  /** Remembers that something was looked for and not found out. */
  miss(what: string, from: string, why: string): void {
    if (!this.gaps.some((gap) => gap.from === from && gap.what === what))
      this.gaps.push({ what, from, why });
  }

  /** A fact, where its file says one. @param unit written after the value */
  async fact(what: string, file: string, unit = ""): Promise<Fact[]> {
    const value = await this.read(file);
    return value ? [{ what, value: unit ? `${value} ${unit}` : value, from: file }] : [];
  }

  /** The directory a path leads to once all links are followed; null where it leads nowhere. */
  async real(file: string): Promise<string | null> {
    try {
      const root = await fs.realpath(this.root);
      const found = await fs.realpath(this.place(file));
      if (root === "/") return found;
      if (found === root || found.startsWith(`${root}/`)) return found.slice(root.length) || "/";
      this.miss(
        path.basename(file),
        file,
        "it leads out of the tree that stands in for the system",
      );
      return null;
    } catch (error) {
      this.note(file, error);
      return null;
    }
  }

  /** The name that a link points to ("uas" for a driver); null where there is no such link. */
  async pointee(file: string): Promise<string | null> {
    try {
      return path.basename(await fs.readlink(this.place(file)));
    } catch (error) {
      if (systemCode(error) !== "EINVAL") this.note(file, error);
      return null;
    }
  }

  /** The driver that is bound to a device, as a fact; none where none is. */
  async driver(device: string): Promise<Fact[]> {
    const from = `${device}/driver`;
    const value = await this.pointee(from);
    return value ? [{ what: "driver", value, from }] : [];
  }

  /** Names in a directory, in order; none where there is no such directory. */
  async list(directory: string): Promise<string[]> {
    try {
      return (await fs.readdir(this.place(directory))).sort();
    } catch (error) {
      this.note(directory, error);
      return [];
    }
  }

  async has(file: string): Promise<boolean> {
    try {
      await fs.lstat(this.place(file));
      return true;
    } catch {
      return false;
    }
  }
}

const WHY: Record<string, string> = {
  EACCES: "this user may not read it",
  EPERM: "this user may not read it",
  EIO: "the device did not answer",
  EINVAL: "the kernel has no value for it now",
  ELOOP: "its links run in a circle",
};
