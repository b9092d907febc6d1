import fs from "node:fs";
import path from "node:path";
import { TABLE_NAMES, type Place, type Row, type TableName } from "@/core/archive/tables";
import { inWords } from "@/store/in-words";
import { ArchiveProblem } from "./archive-problem";
import { openDuck, quoted, type Duck } from "./duck";
import { makeArchive } from "./folder";
import { Known } from "./known";
import { endLeftover, moveIn, stagingFolder } from "./staging";
import { TableBuffer } from "./table-buffer";

/** Rows that are held in memory at most before they are laid ready on the disk. */
const MOST_HELD = 500_000;

type Buffers = { [T in TableName]: TableBuffer<T> };

/**
 * Appends rows to an archive. Files that are there are never touched; what this writer adds is seen when
 * `finish` puts it into its places.
 */
export class ArchiveWriter {
  private files = 0;

  private constructor(
    private readonly archive: string,
    private readonly name: string,
    private readonly duck: Duck,
    private readonly buffers: Buffers,
    /** What the archive holds already. */
    readonly known: Known,
    private readonly batch: string,
  ) {}

  /**
   * Opens an archive to append to, makes it where it is missing, and ends what a writer of the same name left.
   *
   * @param name of this writer, which only one process uses at a time
   * @param batch names this writer's files; no other batch of any writer has the same
   * @throws ArchiveProblem where nothing can be written there, or it is no archive
   */
  static async open(archive: string, name: string, batch: string): Promise<ArchiveWriter> {
    makeArchive(archive);
    await reported(archive, async () => endLeftover(archive, name));
    const duck = await openDuck();
    const buffers: Partial<Record<TableName, unknown>> = {};
    for (const table of TABLE_NAMES)
      buffers[table] = await TableBuffer.make(duck.connection, table);
    const known = await Known.of(archive);
    return new ArchiveWriter(archive, name, duck, buffers as Buffers, known, batch);
  }

  /** Takes a row, unless nothing has changed since the archive got it. */
  put = <T extends TableName>(table: T, place: Place, row: Row<T>): void => {
    if (!this.known.isNews(table, row)) return;
    (this.buffers[table] as TableBuffer<T>).add(row, place);
  };

  /** Lays ready what is held, where that is much. @throws ArchiveProblem where the disk takes no more */
  async settle(): Promise<void> {
    const held = TABLE_NAMES.reduce((sum, table) => sum + this.buffers[table].rows, 0);
    if (held > MOST_HELD) await this.layReady();
  }

  /** Puts everything into its places. @throws ArchiveProblem */
  async finish(): Promise<void> {
    await this.layReady();
    await reported(this.archive, async () => moveIn(this.archive, this.name));
  }

  /** Lets go of everything that is not in its place yet. */
  close(): void {
    for (const table of TABLE_NAMES) this.buffers[table].close();
    this.duck.close();
    try {
      endLeftover(this.archive, this.name);
    } catch {
      // It stands until this writer begins anew; readers look past it.
    }
  }

  private async layReady(): Promise<void> {
    const staging = stagingFolder(this.archive, this.name);
    await reported(this.archive, async () => {
      fs.mkdirSync(staging, { recursive: true });
      for (const table of TABLE_NAMES) {
        const buffer = this.buffers[table];
        if (buffer.rows === 0) continue;
        buffer.flush();
        const to = path.join(staging, table);
        await this.duck.connection.run(
          `COPY "${table}" TO ${quoted(to)} (FORMAT parquet, COMPRESSION zstd, PARTITION_BY (year, month, host),
            FILENAME_PATTERN ${quoted(`${this.batch}-${this.files++}-{i}`)}, OVERWRITE_OR_IGNORE)`,
        );
        await this.duck.connection.run(`DELETE FROM "${table}"`);
        buffer.rows = 0;
      }
    });
  }
}

/** The engine tells of a full disk in words of its own. */
const saidBy = (error: unknown): string =>
  /no space left/i.test((error as Error).message) ? "the disk is full" : inWords(error);

/** @throws ArchiveProblem that says why the folder takes nothing */
async function reported<T>(archive: string, work: () => Promise<T>): Promise<T> {
  try {
    return await work();
  } catch (error) {
    if (error instanceof ArchiveProblem) throw error;
    throw new ArchiveProblem(
      `The archive ${archive} cannot be written: ${saidBy(error)}. What it held before is unchanged. Make room, or name another folder.`,
    );
  }
}
