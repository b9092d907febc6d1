import { createHash } from "node:crypto";
import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import type { RunStatus } from "@/core/drills/request";
import { BUSY_MS, type Store } from "@/store/database";
import { putSetting } from "@/store/settings";
import { log } from "../log";
import { type PlanChange, type Entry, storeAll, isContradiction, apply } from "./keeper-entries";

/** That the store cannot be written, and where what it lacks is kept meanwhile. */
export interface StoreTrouble {
  since: string;
  /** What the system says of it. */
  why: string;
  /** Where what is not stored yet is kept; null where it is kept in memory alone. */
  file: string | null;
  /** How much waits to be stored. */
  waiting: number;
}

/** How often it is tried again, and how long such a try may hold everything else up, milliseconds. */
const AGAIN_MS = 1000;
const TRY_MS = 20;
/** Entries that wait at most: two days of one run. Then samples are let go, and nothing else. */
const MOST_WAITING = 200_000;

/**
 * Keeps what runs bring, in order. Where the store cannot be written (its disk is full, another program holds
 * it), what is to be kept waits in a file beside and in memory, and is stored as soon as that can be done:
 * by this process, or by the next one.
 */
export class Keeper {
  private waiting: Entry[] = [];
  private trouble: StoreTrouble | null = null;
  private again: NodeJS.Timeout | null = null;
  /** The file that what waits is written to; undefined as long as nothing had to wait. */
  private beside: { path: string; fd: number } | null | undefined;

  /** @param folders where what waits may be kept, the best first */
  constructor(
    private readonly store: Store,
    ownFolder: string,
    private readonly folders: readonly string[] = sparesFor(ownFolder),
    private readonly name = nameFor(ownFolder),
  ) {}

  /** Stores an entry, or lets it wait; never throws. */
  keep(entry: Entry): void {
    if (this.waiting.length === 0) {
      try {
        apply(this.store, entry);
        this.trouble = null;
        return;
      } catch (error) {
        if (isContradiction(error)) return void log.error(error, "an entry could not be stored");
        this.failed(error);
      }
    }
    const isMuch = entry.do === "trace" || entry.do === "reading";
    if (isMuch && this.waiting.length >= MOST_WAITING) return;
    this.waiting.push(entry);
    this.writeBeside(entry);
    this.again ??= setTimeout(() => this.retry(), AGAIN_MS).unref();
  }

  /** Notes that something else could not be written to the store. */
  failed(error: unknown): void {
    const { message } = error as Error;
    if (!this.trouble) log.error(error, "the store cannot be written");
    this.trouble ??= { since: new Date().toISOString(), why: message, file: null, waiting: 0 };
    this.again ??= setTimeout(() => this.retry(), AGAIN_MS).unref();
  }

  /** That the store cannot be written; null where it can. */
  get state(): StoreTrouble | null {
    return this.trouble && { ...this.trouble, waiting: this.waiting.length };
  }

  /** How a measurement ended whose end waits to be stored; null where none does. */
  endOf(id: string): { status: RunStatus; reason: string | null } | null {
    const found = this.waiting.findLast((one) => one.do === "end" && one.id === id);
    return found?.do === "end" ? { status: found.status, reason: found.reason } : null;
  }

  /** A measurement with the end that waits to be stored, where one does. */
  withEnd<T extends { id: string; status: RunStatus; reason: string | null }>(measurement: T): T {
    return { ...measurement, ...this.endOf(measurement.id) };
  }

  /** What of a plan changed and waits to be stored. */
  changeOf(planId: string): PlanChange {
    return this.waiting.reduce<PlanChange>(
      (all, one) => (one.do === "plan" && one.id === planId ? { ...all, ...one.change } : all),
      {},
    );
  }

  /** Tries once more to store what waits. @returns whether nothing waits any more */
  retry(): boolean {
    if (this.again) clearTimeout(this.again);
    this.again = null;
    const client = this.store.$client;
    if (!client.open) return false;
    try {
      // Pages are not to wait for another program that holds the database.
      client.pragma(`busy_timeout = ${TRY_MS}`);
      // Where nothing waits, something has to be written all the same to see whether that can be done.
      if (this.waiting.length === 0)
        putSetting(this.store, "store tried", new Date().toISOString());
      storeAll(this.store, this.waiting, null);
      this.waiting = [];
      this.dropBeside();
      this.trouble = null;
      return true;
    } catch (error) {
      this.failed(error);
      return false;
    } finally {
      if (client.open) client.pragma(`busy_timeout = ${BUSY_MS}`);
    }
  }

  /** Takes in what an earlier process could not store. */
  recover(): void {
    for (const folder of this.folders)
      for (const file of filesOf(folder, this.name)) {
        try {
          storeAll(this.store, entriesIn(file), path.basename(file));
          fs.rmSync(file);
        } catch (error) {
          this.failed(error);
        }
      }
  }

  /** Stores what can be stored, and leaves the rest in its file for the next process. */
  close(): void {
    if (this.waiting.length > 0) this.retry();
    if (this.again) clearTimeout(this.again);
    this.again = null;
    if (this.beside) fs.closeSync(this.beside.fd);
    this.beside = undefined;
  }

  private writeBeside(entry: Entry): void {
    try {
      if (this.beside) fs.writeSync(this.beside.fd, `${JSON.stringify(entry)}\n`);
      else this.beside = this.openBeside();
    } catch {
      // Its disk may be full as well: another one is taken, with everything that waits; without another
      // one the file stays, with what it holds so far.
      const next = this.openBeside();
      if (next) {
        this.dropBeside();
        this.beside = next;
      }
    }
    if (this.trouble) this.trouble.file = this.beside?.path ?? null;
  }

  /** Opens a file in the first folder that takes what waits so far. */
  private openBeside(): { path: string; fd: number } | null {
    for (const folder of this.folders) {
      const file = path.join(
        /* turbopackIgnore: true */ folder,
        `${this.name}-${process.pid}-${Date.now()}.jsonl`,
      );
      let fd: number | null = null;
      try {
        fd = fs.openSync(file, "ax", 0o600);
        for (const entry of this.waiting) fs.writeSync(fd, `${JSON.stringify(entry)}\n`);
        return { path: file, fd };
      } catch {
        if (fd !== null) {
          fs.closeSync(fd);
          fs.rmSync(file, { force: true });
        }
      }
    }
    return null;
  }

  private dropBeside(): void {
    if (this.beside) {
      fs.closeSync(this.beside.fd);
      fs.rmSync(this.beside.path, { force: true });
    }
    this.beside = undefined;
  }
}

/** Where what cannot be stored may be kept: a folder that the tester names, beside the data, the system's own. */
const sparesFor = (ownFolder: string): string[] => [
  ...(process.env.NERRIT_SPARE
    ? [path.resolve(/* turbopackIgnore: true */ process.env.NERRIT_SPARE)]
    : []),
  ownFolder,
  os.tmpdir(),
];

/** Files of one data folder, told from those of another. */
const nameFor = (ownFolder: string): string =>
  `nerrit-unstored-${createHash("sha256").update(path.resolve(ownFolder)).digest("hex").slice(0, 16)}`;

/** The files that were left, the oldest first: this user's own, and no links. */
function filesOf(folder: string, name: string): string[] {
  let names: string[];
  try {
    names = fs.readdirSync(folder);
  } catch {
    return [];
  }
  return names
    .filter((one) => one.startsWith(`${name}-`) && one.endsWith(".jsonl"))
    .map((one) => path.join(/* turbopackIgnore: true */ folder, one))
    .filter((file) => {
      const found = fs.lstatSync(file, { throwIfNoEntry: false });
      return found?.isFile() && found.uid === process.getuid?.();
    })
    .toSorted((a, b) => fs.statSync(a).mtimeMs - fs.statSync(b).mtimeMs);
}

/** The entries of a file; a line that was cut short is left out. */
function entriesIn(file: string): Entry[] {
  const found: Entry[] = [];
  for (const line of fs.readFileSync(file, "utf8").split("\n")) {
    try {
      if (line) found.push(JSON.parse(line) as Entry);
    } catch {
      // Its disk was full, or its program ended, in the middle of it.
    }
  }
  return found;
}
