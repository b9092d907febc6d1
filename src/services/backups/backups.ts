import fs from "node:fs";
import path from "node:path";
import {
  backupName,
  BackupSettings,
  Contents,
  fromName,
  USUAL_BACKUPS,
  type Backup,
  type BackupKind,
  type BackupsView,
  type Replacement,
} from "@/core/backup/backup";
import { needless } from "@/core/backup/retention";
import { figuresOf, layRestore, noteBeside, ownBackups } from "@/store/backup";
import { WHERE } from "@/store/left";
import { databaseIn, ownMigrations, type Store } from "@/store/database";
import { makeFolder } from "@/store/make-folder";
import { getSetting, putSetting } from "@/store/settings";
import { log } from "../log";
import { checked, Problem } from "../problem";
import { copyRecordings } from "./recordings-beside";
import { inBackupThread, type InBackupThread } from "./thread";

const NAME = "backups";
const DAY_MS = 86_400e3;
/** How often is looked whether a daily backup is due. */
const LOOK_MS = 60_000;

/** Backups of the database and the recordings: by hand, daily by themselves, and back again. */
export class Backups {
  private making: Promise<Backup> | null = null;
  private trouble: string | null = null;
  private readonly timer: NodeJS.Timeout;

  /**
   * @param folder the data folder
   * @param isFree whether nothing is measured now: a backup reads and writes much
   */
  constructor(
    private readonly store: Store,
    private readonly folder: string,
    private readonly isFree: () => boolean,
    private readonly inThread: InBackupThread = inBackupThread,
  ) {
    this.timer = setInterval(() => void this.daily(), LOOK_MS).unref();
  }

  view(): BackupsView {
    const settings = this.settings();
    const backups = this.list();
    return {
      settings,
      folder: this.into(settings),
      backups,
      trouble: this.trouble,
      next: settings.daily ? this.due(backups) : null,
      isMaking: this.making !== null,
    };
  }

  settings(): BackupSettings {
    return BackupSettings.safeParse(getSetting(this.store, NAME)).data ?? USUAL_BACKUPS;
  }

  /** @throws Problem that names what makes no sense, or a folder that cannot be written */
  set(input: unknown): BackupsView {
    const settings = checked(BackupSettings, input);
    if (settings.folder !== null) writable(settings.folder);
    putSetting(this.store, NAME, settings);
    const { folder } = settings;
    const where = path.join(/* turbopackIgnore: true */ this.folder, WHERE);
    fs.writeFileSync(/* turbopackIgnore: true */ where, JSON.stringify({ folder }), {
      mode: 0o600,
    });
    return this.view();
  }

  /** Makes a backup; one that is being made is waited for. @throws Problem where it cannot be made */
  async make(kind: BackupKind): Promise<Backup> {
    await this.settled();
    this.making = this.made(kind);
    try {
      return await this.making;
    } finally {
      this.making = null;
    }
  }

  private async made(kind: BackupKind): Promise<Backup> {
    const into = this.into(this.settings());
    writable(into);
    const at = `${new Date().toISOString().slice(0, 19)}.000Z`;
    const name = backupName(kind, at);
    const file = path.join(/* turbopackIgnore: true */ into, name);
    if (fs.existsSync(/* turbopackIgnore: true */ file))
      throw new Problem(409, "One was made this very second.");
    dropParts(into);
    const from = databaseIn(this.folder);
    const contents = await this.inThread({ do: "back up", from, to: file });
    noteBeside(file, contents);
    await copyRecordings(this.folder, into, "what has grown");
    const backup = {
      name,
      kind,
      at,
      bytes: fs.statSync(/* turbopackIgnore: true */ file).size,
      contents,
    };
    for (const old of needless(this.list(), this.settings())) this.delete(old.name);
    return backup;
  }

  /** Makes the daily one where it is due and nothing is measured; what goes wrong stands on the page. */
  private async daily(): Promise<void> {
    // Nobody waits for it: whatever fails, a store that cannot be read too, must end nothing else.
    try {
      const { daily } = this.settings();
      if (!daily || this.making || !this.isFree()) return;
      if (Date.parse(this.due(this.list())) > Date.now()) return;
      await this.make("daily");
      this.trouble = null;
    } catch (error) {
      this.trouble = (error as Error).message;
      log.warn(error, "the daily backup could not be made");
    }
  }

  /** A day after the latest that was made by itself or by hand. */
  private due(backups: readonly Backup[]): string {
    const latest = backups.find(({ kind }) => kind === "daily" || kind === "by-hand");
    return new Date(latest ? Date.parse(latest.at) + DAY_MS : Date.now()).toISOString();
  }

  /** Once nothing is being made. */
  async settled(): Promise<void> {
    while (this.making) await this.making.catch(() => undefined);
  }

  /** Removes a backup. @throws Problem where there is none of that name */
  remove(name: string): BackupsView {
    this.fileOf(name);
    this.delete(name);
    return this.view();
  }

  /** What a backup would replace, after all of it was read. @throws Problem where it cannot be restored */
  async compare(name: string): Promise<Replacement> {
    const file = this.fileOf(name);
    const then = await this.inThread({ do: "look", file, migrations: ownMigrations() });
    const backup = this.list().find((one) => one.name === name)!;
    return { now: figuresOf(this.store.$client), then, backup };
  }

  /**
   * Lays a backup ready to take the database's place, which happens when that is opened next. What is there now is
   * backed up before.
   *
   * @throws Problem where something is measured, or it cannot be restored
   */
  async lay(name: string): Promise<Replacement> {
    if (!this.isFree())
      throw new Problem(
        409,
        "Something is being measured or recorded: end that first. Nothing was changed.",
      );
    const replacement = await this.compare(name);
    await this.make("before-restore");
    const file = this.fileOf(name);
    layRestore(file, databaseIn(this.folder));
    await copyRecordings(path.dirname(file), this.folder, "nothing else");
    return replacement;
  }

  shutDown(): void {
    clearInterval(this.timer);
  }

  /** The latest first. */
  private list(): Backup[] {
    return this.folders()
      .flatMap((folder) => backupsIn(folder))
      .toSorted((a, b) => (a.at < b.at ? 1 : -1));
  }

  private into = ({ folder }: BackupSettings): string => folder ?? ownBackups(this.folder);

  /** What is made before an update lies beside the database, wherever the others go. */
  private folders = (): string[] => [
    ...new Set([this.into(this.settings()), ownBackups(this.folder)]),
  ];

  /** @throws Problem where there is none of that name */
  private fileOf(name: string): string {
    const files = this.folders().map((folder) =>
      path.join(/* turbopackIgnore: true */ folder, name),
    );
    const file =
      fromName(name) && files.find((one) => fs.existsSync(/* turbopackIgnore: true */ one));
    if (!file) throw new Problem(404, "There is no such backup any more.");
    return file;
  }

  private delete(name: string): void {
    const file = this.fileOf(name);
    for (const one of [file, `${file}.json`])
      fs.rmSync(/* turbopackIgnore: true */ one, { force: true });
  }
}

/** The backups that lie in a folder; a folder that is not there has none. */
export function backupsIn(folder: string): Backup[] {
  let names: string[];
  try {
    names = fs.readdirSync(/* turbopackIgnore: true */ folder);
  } catch {
    return [];
  }
  return names.flatMap((name) => {
    const said = fromName(name);
    const file = path.join(/* turbopackIgnore: true */ folder, name);
    const found = said && fs.statSync(/* turbopackIgnore: true */ file, { throwIfNoEntry: false });
    return found ? [{ ...said, bytes: found.size, contents: notesBeside(file) }] : [];
  });
}

/** Removes what a program that was killed had begun to write, a day ago or longer. */
function dropParts(folder: string): void {
  for (const name of fs.readdirSync(/* turbopackIgnore: true */ folder)) {
    if (!name.endsWith(".part") || !fromName(name.slice(0, -".part".length))) continue;
    const file = path.join(/* turbopackIgnore: true */ folder, name);
    const found = fs.statSync(/* turbopackIgnore: true */ file, { throwIfNoEntry: false });
    if (found && Date.now() - found.mtimeMs > DAY_MS)
      fs.rmSync(/* turbopackIgnore: true */ file, { force: true });
  }
}

function notesBeside(file: string): Contents | null {
  try {
    return Contents.parse(
      JSON.parse(fs.readFileSync(/* turbopackIgnore: true */ `${file}.json`, "utf8")),
    );
  } catch {
    return null;
  }
}

/** Makes sure that files can be written into a folder. @throws Problem 422 at the field */
function writable(folder: string): void {
  try {
    makeFolder(folder);
    fs.accessSync(/* turbopackIgnore: true */ folder, fs.constants.W_OK);
  } catch (error) {
    const message = `nothing can be written into ${folder} (${(error as Error).message})`;
    throw new Problem(422, `folder: ${message}`, [{ path: "folder", message }]);
  }
}
