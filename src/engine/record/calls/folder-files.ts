import { SECTOR } from "@/core/recording/request";
import type { NativeOpen } from "../../lanes/native";

/** Each file has a stretch of its own, so large; of files beyond so many several share one. Sectors. */
const STRETCH = 2 ** 37 / SECTOR;
const MOST_FILES = 65_536;

/** The files of a folder as they are opened, each with its place among the stretches of all. */
export class FolderFiles {
  private readonly prefix: string;
  private readonly numbers = new Map<string, number>();
  /** How large each is, bytes, by its number. */
  private readonly sizes: number[] = [];
  /** What was opened on the folder's mount, by the thread that did, and not looked at yet. */
  private readonly opens = new Map<number, NativeOpen[]>();

  /** @param folder by its whole path, links followed */
  constructor(folder: string) {
    this.prefix = folder.endsWith("/") ? folder : `${folder}/`;
  }

  opened(opens: readonly NativeOpen[]): void {
    for (const one of opens) {
      const waiting = this.opens.get(one.thread);
      if (waiting) waiting.push(one);
      else this.opens.set(one.thread, [one]);
    }
  }

  /**
   * What a thread opened within a call.
   *
   * @returns the file's number; null where that was no file of the folder
   */
  openedBy(thread: number, fromNs: number, toNs: number): number | null {
    const waiting = this.opens.get(thread) ?? [];
    // Those before the call were refused after they had been noted.
    const found = waiting.findLast(({ ns }) => ns > fromNs && ns < toNs);
    this.keep(
      thread,
      waiting.filter(({ ns }) => ns > toNs),
    );
    return found?.path.startsWith(this.prefix) ? this.numberOf(found) : null;
  }

  /** Forgets what threads opened that nobody asks about, before a moment. */
  forget(isAskedAbout: (thread: number) => boolean, beforeNs: number): void {
    for (const [thread, waiting] of [...this.opens])
      if (!isAskedAbout(thread))
        this.keep(
          thread,
          waiting.filter(({ ns }) => ns >= beforeNs),
        );
  }

  bytesOf(file: number): number {
    return this.sizes[file]!;
  }

  /** A place of a file among the stretches of all, in whole sectors; the file is at least so large now. */
  sectorsOf(file: number, place: number, bytes: number): [sector: number, sectors: number] {
    this.sizes[file] = Math.max(this.sizes[file]!, place + bytes);
    const first = Math.floor(place / SECTOR);
    const at = (file % MOST_FILES) * STRETCH + Math.min(first, STRETCH - 1);
    return [at, Math.ceil((place + bytes) / SECTOR) - first];
  }

  private keep(thread: number, left: NativeOpen[]): void {
    if (left.length > 0) this.opens.set(thread, left);
    else this.opens.delete(thread);
  }

  private numberOf({ path, bytes }: NativeOpen): number {
    const number = this.numbers.get(path) ?? this.numbers.size;
    this.numbers.set(path, number);
    this.sizes[number] = bytes;
    return number;
  }
}
