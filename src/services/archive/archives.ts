import fs from "node:fs";
import path from "node:path";
import type { Answer } from "@/core/archive/answer";
import type { ArchiveLook } from "@/core/archive/look";
import { findQuestion, sqlOf } from "@/core/archive/questions/questions";
import {
  ArchiveSettings,
  Asked,
  USUAL_ARCHIVE,
  type ArchiveProgress,
  type ArchiveView,
} from "@/core/archive/view";
import { ownMigrations, type Store } from "@/store/database";
import { getSetting, putSetting } from "@/store/settings";
import { log } from "../log";
import { checked, Problem } from "../problem";
import { takeInStudy } from "../studies/study-file";
import { inArchiveProcess, type InArchiveProcess } from "./process";

const NAME = "archive";

/** A question on the page is ended after so long, milliseconds, and shows so many rows. */
const ASK_MS = 60_000;
const ASK_ROWS = 10_000;
/** What an archive holds is looked at anew after so long. */
const SEEN_MS = 30_000;
/** Questions that are answered at the same time: each has a process with half a gigabyte. */
const MOST_ASKED = 2;

/** What was found in the archive's folder when it was looked at last, or why nothing was. */
interface Seen {
  folder: string;
  at: number;
  look: ArchiveLook | null;
  trouble: string | null;
}

/** The archive that a bench is written to, and the questions that it and others are asked. */
export class Archives {
  private stopping: AbortController | null = null;
  private progress: ArchiveProgress | null = null;
  private trouble: string | null = null;
  private seen: Seen | null = null;
  private looking: Promise<void> | null = null;
  private asked = 0;

  /**
   * @param data the data folder
   * @param isFree whether nothing is measured now: an archive reads and writes much
   */
  constructor(
    private readonly store: Store,
    private readonly data: string,
    private readonly isFree: () => boolean,
    private readonly inProcess: InArchiveProcess = inArchiveProcess,
  ) {}

  async view(): Promise<ArchiveView> {
    const settings = this.settings();
    await this.lookAt(settings);
    return this.glance();
  }

  /** The same without looking into the folder, which takes a while. */
  glance(): ArchiveView {
    const settings = this.settings();
    const seen = this.seen?.folder === settings.folder ? this.seen : null;
    const trouble = this.trouble ?? seen?.trouble ?? null;
    return { settings, look: seen?.look ?? null, trouble, progress: this.progress };
  }

  settings(): ArchiveSettings {
    return ArchiveSettings.safeParse(getSetting(this.store, NAME)).data ?? USUAL_ARCHIVE;
  }

  /** @throws Problem that names what makes no sense */
  set(input: unknown): ArchiveView {
    const settings = checked(ArchiveSettings, input);
    if (this.stopping)
      throw new Problem(409, "The archive is being written. Wait for its end, or stop it.");
    if (settings.folder !== null && isWithin(settings.folder, this.data))
      throw refusedFolder("lies in Nerrit's own data folder: name another place");
    putSetting(this.store, NAME, settings);
    [this.seen, this.trouble] = [null, null];
    return this.glance();
  }

  /** Begins to add what the archive lacks. @throws Problem where that cannot begin */
  start(): ArchiveView {
    const { folder, samples } = this.settings();
    if (folder === null) throw refusedFolder("name the folder of the archive first");
    if (this.stopping) throw new Problem(409, "The archive is being written already.");
    if (!this.isFree())
      throw new Problem(
        409,
        "Something is being measured or recorded, and this would take from it. Wait for its end.",
      );
    this.stopping = new AbortController();
    this.progress = { done: 0, of: 0, added: 0 };
    this.trouble = null;
    void this.written(folder, samples, this.stopping.signal);
    return this.glance();
  }

  /** Ends the writing; the archive holds what it held before. */
  stop(): ArchiveView {
    this.stopping?.abort();
    return this.glance();
  }

  private async written(to: string, samples: boolean, signal: AbortSignal): Promise<void> {
    try {
      await this.inProcess(
        "archived",
        { do: "archive", data: this.data, migrations: ownMigrations(), to, samples },
        { signal, onProgress: (progress) => (this.progress = progress) },
      );
    } catch (error) {
      if (!signal.aborted) {
        this.trouble = (error as Error).message;
        log.warn(error, "the archive could not be written");
      }
    } finally {
      [this.stopping, this.progress, this.seen] = [null, null, null];
    }
  }

  /** Looks into the folder, unless that was done of late: other benches and the command write there too. */
  private async lookAt({ folder }: ArchiveSettings): Promise<void> {
    if (folder === null || this.stopping) return;
    const isFresh = this.seen?.folder === folder && Date.now() - this.seen.at < SEEN_MS;
    // Whoever comes meanwhile waits for the same look.
    if (!isFresh) this.looking ??= this.looked(folder).finally(() => (this.looking = null));
    await this.looking;
  }

  private async looked(folder: string): Promise<void> {
    const seen: Seen = { folder, at: Date.now(), look: null, trouble: null };
    try {
      // Where nothing was written yet there is nothing to say.
      if (fs.existsSync(/* turbopackIgnore: true */ folder))
        seen.look = await this.inProcess("look", { do: "look", archive: folder }, { ms: ASK_MS });
    } catch (error) {
      seen.trouble = (error as Error).message;
    }
    this.seen = seen;
  }

  /** Asks this bench's archive and the others. @throws Problem that says why there is no answer */
  async ask(input: unknown, signal?: AbortSignal): Promise<Answer> {
    const asked = checked(Asked, input);
    const archives = this.known();
    const sql = "sql" in asked ? asked.sql : readySql(asked);
    if (this.asked >= MOST_ASKED)
      throw new Problem(409, "Two questions are being answered. Wait for one of them.");
    this.asked++;
    try {
      const order = { do: "ask" as const, archives, sql, ms: ASK_MS, rows: ASK_ROWS };
      return await this.inProcess("answer", order, { signal, ms: ASK_MS });
    } finally {
      this.asked--;
    }
  }

  /** Takes a study out of the archives into this bench, as another study. @returns its id @throws Problem */
  async takeIn(studyId: string): Promise<{ id: string }> {
    const order = { do: "study" as const, archives: this.known(), studyId };
    const file = await this.inProcess("study", order, { ms: ASK_MS });
    return { id: takeInStudy(this.store, Buffer.from(file)).id };
  }

  shutDown(): void {
    this.stopping?.abort();
  }

  /** Folders to ask. @throws Problem where there is none */
  private known(): string[] {
    const { folder, others } = this.settings();
    const all = [...new Set([...(folder === null ? [] : [folder]), ...others])];
    const there = all.filter((one) => fs.existsSync(/* turbopackIgnore: true */ one));
    if (there.length === 0)
      throw new Problem(
        409,
        all.length === 0
          ? "There is no archive to ask yet. Name a folder, and add the runs of this bench."
          : `There is nothing in ${all.join(", ")} yet. Add the runs of this bench.`,
      );
    return there;
  }
}

function readySql({
  question,
  filters,
}: Extract<ReturnType<typeof Asked.parse>, { question: string }>) {
  const found = findQuestion(question);
  if (!found) throw new Problem(404, "There is no such question.");
  return sqlOf(found, filters);
}

const refusedFolder = (message: string) =>
  new Problem(422, `folder: ${message}`, [{ path: "folder", message }]);

const isWithin = (folder: string, outer: string): boolean => {
  const way = path.relative(outer, path.resolve(/* turbopackIgnore: true */ folder));
  return way === "" || (!way.startsWith("..") && !path.isAbsolute(way));
};
