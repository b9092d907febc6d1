/** A file that was opened: what several descriptors may share (open(2), "open file description"). */
export interface OpenFile {
  /** Tells it from other files, by the order in which they were first opened. */
  file: number;
  /** Where the next read or write without a place goes, bytes. */
  position: number;
  /** Whether writes go to its end. */
  append: boolean;
}

interface Descriptor {
  open: OpenFile;
  /** Whether it is closed as the process becomes another program. */
  closesOnExec: boolean;
}

/** The descriptors of a process that stand for files of the recorded folder, by their numbers. */
export class Descriptors {
  private readonly known = new Map<number, Descriptor>();

  get(fd: number): OpenFile | null {
    return this.known.get(fd)?.open ?? null;
  }

  /** @param open null for what is no file of the folder */
  put(fd: number, open: OpenFile | null, closesOnExec = false): void {
    if (open) this.known.set(fd, { open, closesOnExec });
    else this.known.delete(fd);
  }

  closeRange(from: number, to: number): void {
    for (const fd of [...this.known.keys()]) if (fd >= from && fd <= to) this.known.delete(fd);
  }

  exec(): void {
    for (const [fd, { closesOnExec }] of [...this.known]) if (closesOnExec) this.known.delete(fd);
  }

  /** Those of a process that was begun by this one: numbers of its own, the same open files. */
  copied(): Descriptors {
    const copy = new Descriptors();
    for (const [fd, one] of this.known) copy.known.set(fd, { ...one });
    return copy;
  }
}
