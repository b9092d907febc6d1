import { execFile, spawn } from "node:child_process";
import fs from "node:fs";
import path from "node:path";
import type { Readable } from "node:stream";
import { countedOnHost } from "@/core/host/counted";
import { decodeLog } from "@/core/elsewhere/decode";
import { isRecording } from "@/core/recording/any-recording";
import { AskedDocument, type KeptRecording, type KeptWork } from "@/core/recording/kept";
import type { RecordedWork } from "@/core/run/recorded-work";
import { formatMoment } from "@/core/units/day";
import { isSample } from "./samples";
import { dropBeside, keepBeside, toldBeside } from "./told";
import { countOn, type Underway } from "./underway";
import { Problem } from "../problem";

/** The command, which records in a process of its own. */
const COMMAND = path.join(/* turbopackIgnore: true */ process.cwd(), "dist", "cli.mjs");
/** A drive's name and a time: "sdb-20260301T101500123", "lab2:sdb-20260301T101500123". */
const ID = /^([\w!@:.-]{1,200})-(\d{8}T\d{9})$/;
/** What is said of how far the recording of a host is; the file comes when it is over. */
const FAR = /^(\d[\d\s]*) requests? recorded$/gm;
/** Documents are small; nothing larger than this is one. */
const MOST_PRINTED = 2 ** 20;
const KEPT_IN_MEMORY = 16;
/** A recording is told by how it begins. */
const LOOK_BYTES = 8192;

/** Makes and keeps recordings of what reaches drives, each a file in a folder of the data folder. */
export class Recordings {
  private readonly underway = new Map<string, Underway>();
  private readonly asked = new Map<string, AskedDocument>();
  private readonly unreadable = new Set<string>();

  /**
   * @param folder where they lie; made with the first
   * @param command the bundled command
   */
  constructor(
    readonly folder: string,
    private readonly command = COMMAND,
  ) {}

  /**
   * Begins to record a drive.
   *
   * @param name as the kernel calls the drive: "sdb"; of a host with that before it: "lab2:sdb"
   * @throws Problem where it is recorded already
   */
  begin(name: string): KeptRecording {
    if (!/^[\w!@:.-]{1,200}$/.test(name)) throw new Problem(422, "That is no name of a drive.");
    if (this.list(name).some(({ running }) => running))
      throw new Problem(409, `${name} is recorded already. Stop that recording first.`);
    const id = `${name}-${new Date().toISOString().replace(/[-:.Z]/g, "")}`;
    fs.mkdirSync(this.folder, { recursive: true, mode: 0o700 });
    const far = countedOnHost(name);
    const on = far ? [`--on=${far.host}`, "--progress"] : [];
    const args = ["record", `/dev/${far?.name ?? name}`, ...on, "--out", this.fileOf(id)];
    args.push("--until-closed", "--json");
    // Its input ends with this process, however that ends, and the recording with it.
    const child = spawn(process.execPath, [this.command, ...args], {
      stdio: ["pipe", "ignore", "pipe"],
    });
    const underway: Underway = { child, running: true, trouble: null, readTo: 0, requests: 0 };
    this.underway.set(id, underway);
    child.stdin.on("error", () => undefined); // it may have ended already; its end is told below
    let said = "";
    child.stderr.on("data", (chunk) => {
      said = (said + String(chunk)).slice(-2000);
      for (const [, count] of far ? said.matchAll(FAR) : [])
        underway.requests = Number(count!.replaceAll(/\s/g, ""));
      if (far) said = said.replaceAll(FAR, "").trimStart();
    });
    child.once("error", (error) => (said = error.message));
    child.once("close", (status) => {
      underway.running = false;
      if (status !== 0)
        underway.trouble = said.trim().replace(/^nerrit: /, "") || "The recorder was ended.";
    });
    return this.kept(id);
  }

  /** Whether anything is being recorded. */
  get goesOn(): boolean {
    return [...this.underway.values()].some(({ running }) => running);
  }

  /** Ends a recording, which is whole a moment later. @throws Problem where there is none */
  stop(id: string): void {
    this.kept(id);
    this.underway.get(id)?.child.stdin?.end();
  }

  /** The recordings of a drive, the latest first; those that could not be made while they are news. */
  list(name: string): KeptRecording[] {
    const ids = new Set([...this.underway.keys(), ...this.filed()]);
    return [...ids]
      .filter((id) => ID.exec(id)?.[1] === name)
      .toSorted()
      .toReversed()
      .map((id) => this.kept(id));
  }

  /**
   * What the recorded work asks of the drive, worked out in a process of its own.
   *
   * @throws Problem where there is no such recording, or it cannot be read
   */
  async told(id: string): Promise<AskedDocument> {
    const { running, bytes } = this.kept(id);
    if (running) throw new Problem(409, "This recording goes on. Stop it first.");
    const known = this.asked.get(id) ?? toldBeside(this.folder, id, bytes);
    if (known) return this.remember(id, known);
    const printed = await this.print(["read", this.fileOf(id), "--json"]);
    const document = AskedDocument.parse(JSON.parse(printed));
    keepBeside(this.folder, id, bytes, document);
    return this.remember(id, document);
  }

  /** What can be done again, the latest first. Recordings that cannot be read are left out. */
  async works(): Promise<KeptWork[]> {
    const ended = this.filed().filter((id) => !this.kept(id).running);
    const works: KeptWork[] = [];
    for (const id of ended) {
      const { startedAt } = this.kept(id);
      const work = await this.workOf(id);
      if (work)
        works.push({ id, startedAt, isSample: isSample(id), work: named(work, id, startedAt) });
    }
    return works.toSorted((a, b) => b.startedAt.localeCompare(a.startedAt));
  }

  /**
   * Takes a recording in that was made elsewhere.
   *
   * @param name of its file
   * @throws Problem where it holds nothing that can be done again
   */
  async take(bytes: Uint8Array, name: string): Promise<KeptWork> {
    if (!isRecording(decodeLog(bytes.subarray(0, LOOK_BYTES))))
      throw new Problem(
        422,
        "This is no recording. Choose one of nerrit record or of Watch, a table of requests, or the text of a block trace.",
      );
    const now = new Date().toISOString();
    const id = `file-${now.replace(/[-:.Z]/g, "")}`;
    fs.mkdirSync(this.folder, { recursive: true, mode: 0o700 });
    try {
      fs.writeFileSync(this.fileOf(id), bytes, { flag: "wx", mode: 0o600 });
      const told = await this.told(id);
      if (!told.work)
        throw new Problem(
          422,
          "Nothing was read or written in this recording, so there is nothing to do again.",
        );
      const ours = told.work.name === id ? name.replace(/\.[^.]+$/, "").trim() : "";
      const work = { ...told.work, ...(ours ? { name: ours.slice(0, 200) } : {}) };
      keepBeside(this.folder, id, this.kept(id).bytes, { ...told, work });
      this.remember(id, { ...told, work });
      return { id, startedAt: this.kept(id).startedAt, isSample: false, work };
    } catch (problem) {
      fs.rmSync(this.fileOf(id), { force: true });
      dropBeside(this.folder, id);
      this.asked.delete(id);
      const { code, message } = problem as NodeJS.ErrnoException;
      if (code !== "ENOSPC") throw problem;
      throw new Problem(507, `The recording could not be kept: ${message}. Nothing was changed.`);
    }
  }

  /** Where the recording with a digest lies; null where it is not here. @param sha256 of its file */
  fileWith(sha256: string): string | null {
    const id = this.filed().find((one) => {
      const known = this.asked.get(one) ?? toldBeside(this.folder, one, this.kept(one).bytes);
      return known?.work?.sha256 === sha256;
    });
    return id === undefined ? null : this.fileOf(id);
  }

  /** When a recording began, ISO 8601. @throws Problem where there is none */
  startedAt(id: string): string {
    return this.kept(id).startedAt;
  }

  /** A recording's file. @throws Problem where there is none */
  file(id: string): { path: string; bytes: number } {
    const { bytes } = this.kept(id);
    return { path: this.fileOf(id), bytes };
  }

  /** Its requests as a table. @throws Problem where there is none */
  table(id: string): Readable {
    this.kept(id);
    const args = [this.command, "read", this.fileOf(id), "--csv"];
    return spawn(process.execPath, args, { stdio: ["ignore", "pipe", "ignore"] }).stdout;
  }

  /** Removes a recording that has ended. @throws Problem where there is none, or it goes on */
  remove(id: string): void {
    if (this.kept(id).running) throw new Problem(409, "This recording goes on. Stop it first.");
    fs.rmSync(this.fileOf(id), { force: true });
    dropBeside(this.folder, id);
    this.underway.delete(id);
    this.asked.delete(id);
  }

  /** What doing a recording again takes; one that cannot be read is not tried twice. */
  private async workOf(id: string): Promise<RecordedWork | null> {
    if (this.unreadable.has(id)) return null;
    try {
      return (await this.told(id)).work;
    } catch {
      this.unreadable.add(id);
      return null;
    }
  }

  private remember(id: string, document: AskedDocument): AskedDocument {
    this.asked.set(id, document);
    if (this.asked.size > KEPT_IN_MEMORY) this.asked.delete(this.asked.keys().next().value!);
    return document;
  }

  private fileOf(id: string): string {
    return path.join(/* turbopackIgnore: true */ this.folder, `${id}.jsonl`);
  }

  private filed(): string[] {
    if (!fs.existsSync(this.folder)) return [];
    return fs
      .readdirSync(this.folder)
      .flatMap((name) => (name.endsWith(".jsonl") ? [name.slice(0, -".jsonl".length)] : []));
  }

  private kept(id: string): KeptRecording {
    const [, name, time] = ID.exec(id) ?? [];
    const underway = this.underway.get(id);
    const found = name ? fs.statSync(this.fileOf(id), { throwIfNoEntry: false }) : undefined;
    if (!name || (!found && !underway)) throw new Problem(404, "There is no such recording.");
    if (underway && !countedOnHost(name)) countOn(underway, this.fileOf(id), found?.size ?? 0);
    return {
      id,
      name,
      startedAt: timeOf(time!),
      running: underway?.running ?? false,
      requests: underway?.requests ?? 0,
      bytes: found?.size ?? 0,
      trouble: underway?.trouble ?? null,
    };
  }

  private print(args: string[]): Promise<string> {
    return new Promise((resolve, reject) =>
      execFile(
        process.execPath,
        [this.command, ...args],
        { maxBuffer: MOST_PRINTED },
        (error, stdout, stderr) => {
          if (!error) resolve(stdout);
          else reject(new Problem(422, plainly(stderr) || error.message));
        },
      ),
    );
  }
}

/** What the command complains of, without where this server keeps the file. */
const plainly = (said: string): string => said.trim().replace(/^nerrit: (\/\S+\.jsonl: )?/, "");

/** Work that nobody named is called by its drive and day. */
const named = (work: RecordedWork, id: string, startedAt: string): RecordedWork =>
  work.name === id
    ? { ...work, name: `work on ${ID.exec(id)![1]}, ${formatMoment(startedAt)}` }
    : work;

/** "20260301T101500123" as ISO 8601. */
const timeOf = (time: string): string =>
  time.replace(/^(\d{4})(\d\d)(\d\d)T(\d\d)(\d\d)(\d\d)(\d{3})$/, "$1-$2-$3T$4:$5:$6.$7Z");
