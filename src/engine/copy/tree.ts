import fs from "node:fs";
import path from "node:path";

const { O_RDONLY, O_DIRECTORY, O_NOFOLLOW } = fs.constants;

/** What lies in a folder that is held open: the kernel's own name for the handle, whatever its path says by now. */
export const within = (fd: number, name = ""): string =>
  name ? `/proc/self/fd/${fd}/${name}` : `/proc/self/fd/${fd}`;

/** Opens a folder itself: a link in its place is none. */
export const openFolder = (name: string): number =>
  fs.openSync(name, O_RDONLY | O_DIRECTORY | O_NOFOLLOW);

/**
 * Files below a folder that is held open. Each is reached step by step from the folder's handle, and no step
 * follows a link (as openat(2) with O_NOFOLLOW does): who exchanges a folder on the way for a link leads
 * nowhere.
 */
export class Tree {
  private below = "";
  private at: number;

  /** @param root handle of the folder; it stays the caller's */
  constructor(private readonly root: number) {
    this.at = root;
  }

  /**
   * Opens a file.
   *
   * @param name its place below the folder
   * @param make whether folders on the way are made where they are missing
   * @returns its handle
   * @throws Error with the system's code, ELOOP or ENOTDIR where a link stands in the way
   */
  open(name: string, flags: number, make = false): number {
    this.enter(path.dirname(name), make);
    return fs.openSync(within(this.at, path.basename(name)), flags | O_NOFOLLOW, 0o600);
  }

  /** Removes a file that this tree has just made. */
  remove(name: string): void {
    this.enter(path.dirname(name), false);
    fs.rmSync(within(this.at, path.basename(name)), { force: true });
  }

  private enter(folder: string, make: boolean): void {
    if (folder === this.below) return;
    let at = this.root;
    for (const step of folder.split("/").filter((one) => one !== "" && one !== ".")) {
      if (make) makeMissing(within(at, step));
      const next = openFolder(within(at, step));
      if (at !== this.root) fs.closeSync(at);
      at = next;
    }
    this.leave();
    [this.below, this.at] = [folder, at];
  }

  private leave(): void {
    if (this.at !== this.root) fs.closeSync(this.at);
    [this.below, this.at] = ["", this.root];
  }

  close(): void {
    this.leave();
  }
}

function makeMissing(folder: string): void {
  try {
    fs.mkdirSync(folder, { mode: 0o700 });
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code !== "EEXIST") throw error;
  }
}
