import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { text } from "node:stream/consumers";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { Recordings } from "./recordings";

/** A command that stands in for Nerrit's own: its recording goes on until its input ends. */
const STAND_IN = `
import fs from "node:fs";
import path from "node:path";
const [what, subject, ...rest] = process.argv.slice(2);
const workIn = (file) => fs.readFileSync(file, "utf8").includes("idle") ? null : {
  name: path.basename(file, ".jsonl"), sha256: Buffer.from(path.basename(file).padEnd(32)).toString("hex").slice(0, 64),
  requests: 42, ms: 3000, bytesRead: 4096, bytesWritten: 0, workingSetBytes: 4096,
};
if (what === "record") {
  if (subject === "/dev/sdz") {
    console.error("nerrit: There is no /dev/sdz.");
    process.exit(1);
  }
  const out = rest[rest.indexOf("--out") + 1];
  fs.writeFileSync(out, '{"format":"nerrit-recording"}\\n{"requests":40,"programs":[]}\\n{"requests":2,"progr');
  process.stdin.resume().on("end", () => {
    fs.appendFileSync(out, 'ams":[]}\\n');
    process.exit(0);
  });
} else if (rest.includes("--csv")) console.log("seconds,operation");
else {
  const flow = { bytes: 0, requests: 0, meanMBps: 0, peakMBps: 0, p99MBps: 0 };
  const numbers = ["flushes", "discards", "medianBytes", "largeShare", "randomShare", "meanDepth", "mostDepth", "busyShare", "pauses", "pausedSeconds", "workingSetBytes", "lost"];
  const document = Object.fromEntries(numbers.map((name) => [name, 0]));
  if (fs.readFileSync(subject, "utf8").includes("broken")) { console.error("nerrit: line 2"); process.exit(2); }
  console.log(JSON.stringify({ ...document, requests: 42, seconds: 3, read: flow, write: flow, medianUs: null, p99Us: null, programs: [], reason: null, work: workIn(subject) }));
}
`;

describe("recordings that the server makes", () => {
  let folder: string;
  let recordings: Recordings;
  beforeEach(() => {
    folder = fs.mkdtempSync(path.join(os.tmpdir(), "nerrit-recordings-"));
    const command = path.join(folder, "command.mjs");
    fs.writeFileSync(command, STAND_IN);
    recordings = new Recordings(path.join(folder, "kept"), command);
  });
  afterEach(() => fs.rmSync(folder, { recursive: true }));

  const latest = () => recordings.list("sdb")[0]!;
  const ended = (id: string, name = "sdb") =>
    expect.poll(() => recordings.list(name).find((one) => one.id === id)?.running).toBe(false);

  it("go on until they are stopped, tell how far they are, and are kept", async () => {
    expect(recordings.list("sdb")).toEqual([]);
    const { id } = recordings.begin("sdb");
    // The line that is on its way is not counted before it is whole.
    await expect.poll(() => latest().requests).toBe(40);
    expect(latest()).toMatchObject({ id, running: true, trouble: null });
    await expect(recordings.told(id)).rejects.toMatchObject({ status: 409 });
    expect(() => recordings.remove(id)).toThrow(/goes on/);
    recordings.stop(id);
    await ended(id);
    expect(latest().requests).toBe(42);
    expect(await recordings.told(id)).toMatchObject({ requests: 42, seconds: 3 });
    expect(await text(recordings.table(id))).toMatch(/^seconds,operation/);
    // Another server finds them by their files.
    const again = new Recordings(path.join(folder, "kept"));
    expect(again.list("sdb")).toMatchObject([{ id, running: false }]);
    expect(again.list("sd")).toEqual([]);
    recordings.remove(id);
    expect(recordings.list("sdb")).toEqual([]);
  });

  it("are one at a time of a drive, and of two drives at once", async () => {
    const one = recordings.begin("sdb");
    const other = recordings.begin("sdc");
    expect(() => recordings.begin("sdb")).toThrow(/recorded already/);
    // What is stopped before it has its file is stopped, too.
    await expect.poll(() => latest().requests).toBe(40);
    await expect.poll(() => recordings.list("sdc")[0]!.requests).toBe(40);
    for (const { id } of [one, other]) recordings.stop(id);
    await ended(one.id);
    await ended(other.id, "sdc");
  });

  it("that cannot be made say why, until they are dismissed", async () => {
    const { id } = recordings.begin("sdz");
    await ended(id, "sdz");
    expect(recordings.list("sdz")).toMatchObject([{ trouble: "There is no /dev/sdz." }]);
    recordings.remove(id);
    expect(recordings.list("sdz")).toEqual([]);
  });

  it("whose file makes no sense say so", async () => {
    const { id } = recordings.begin("sdb");
    await expect.poll(() => latest().requests).toBe(40);
    recordings.stop(id);
    await ended(id);
    fs.appendFileSync(recordings.file(id).path, "broken");
    await expect(recordings.told(id)).rejects.toMatchObject({ status: 422, message: "line 2" });
  });

  it.each(["../../etc/passwd", "sdb", "sdb-20260101T000000000", "", "x\0-20260101T000000000"])(
    "are none by the name %j",
    (id) => {
      expect(() => recordings.file(id)).toThrow(/no such recording/);
      expect(() => recordings.stop(id)).toThrow(/no such recording/);
    },
  );

  it.each(["../sdb", "", "a b", "sdb;reboot"])("are not begun of %j", (name) => {
    expect(() => recordings.begin(name)).toThrow(/no name of a drive/);
  });

  it("can be done again: those that were made here, and those that are taken in from a file", async () => {
    const { id } = recordings.begin("sdb");
    await expect.poll(() => latest().requests).toBe(40);
    expect(await recordings.works()).toEqual([]); // it goes on
    recordings.stop(id);
    await ended(id);
    const [own] = await recordings.works();
    expect(own!.work.name).toMatch(/^work on sdb, /);
    expect(recordings.fileWith(own!.work.sha256)).toMatch(/sdb-.*\.jsonl$/);
    const text = (words: string) => Buffer.from(`{"format":"nerrit-recording"}\n${words}`);
    const taken = await recordings.take(text(""), "An evening of cutting.csv");
    expect(taken.work.name).toBe("An evening of cutting");
    expect((await recordings.works()).map(({ id: one }) => one)).toContain(taken.id);
    await expect(recordings.take(text("idle"), "x")).rejects.toThrow(/nothing to do again/);
    await expect(recordings.take(text("broken"), "x")).rejects.toThrow(/^line 2$/);
    await expect(recordings.take(Buffer.from("a,b"), "x")).rejects.toThrow(/no recording/);
    // Another process knows what this one found out.
    const again = new Recordings(path.join(folder, "kept"), "no command");
    expect(await again.works()).toHaveLength(2);
    expect(again.fileWith(taken.work.sha256)).not.toBeNull();
    recordings.remove(taken.id);
    expect(recordings.fileWith(taken.work.sha256)).toBeNull();
    expect(fs.readdirSync(path.join(folder, "kept"))).toHaveLength(2);
  });
});
