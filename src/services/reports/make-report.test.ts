import { execFileSync } from "node:child_process";
import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { deflateSync, crc32 } from "node:zlib";
import { strFromU8, unzipSync } from "fflate";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { StudyFile } from "@/core/exchange/study-file";
import { twoBoxes } from "@/core/testing/two-boxes";
import { openStore, type Store } from "@/store/database";
import { keepPhoto, openPhoto } from "../shelf/photo";
import {
  allIssues,
  choiceOf,
  issueReport,
  issuesOf,
  makeReport,
  openIssue,
  setChoice,
} from "./make-report";
import { saveStudy } from "../studies/save-study";
import { takeInStudy } from "../studies/study-file";
import { addRig, changeRig, openStudy } from "../studies/studies";
import { setNotes } from "../studies/change-study";
import { changePart } from "../shelf/shelf";
import { RigDraft } from "@/core/chain/rig";
import { rigsOfStudy } from "@/store/studies";
import { deleteStudy } from "@/store/studies";

const file = path.resolve(import.meta.dirname, "../../../dist/report.mjs");
const AT = new Date("2026-11-26T09:00:00Z");

/** A picture of one pixel, with a place in it. */
function picture(): Buffer {
  const chunk = (name: string, data: Buffer) => {
    const body = Buffer.concat([Buffer.from(name), data]);
    const ends = [Buffer.alloc(4), Buffer.alloc(4)] as const;
    ends[0].writeUInt32BE(data.length);
    ends[1].writeUInt32BE((crc32 as (data: Buffer) => number)(body));
    return Buffer.concat([ends[0], body, ends[1]]);
  };
  const head = Buffer.from([0, 0, 0, 1, 0, 0, 0, 1, 8, 2, 0, 0, 0]);
  return Buffer.concat([
    Buffer.from([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a]),
    chunk("IHDR", head),
    chunk("tEXt", Buffer.from("place\0hut on the ridge")),
    chunk("IDAT", deflateSync(Buffer.alloc(4))),
    chunk("IEND", Buffer.alloc(0)),
  ]);
}

describe("reporting a study", () => {
  let folder: string;
  let store: Store;
  let study: string;
  beforeAll(() => {
    const root = path.resolve(import.meta.dirname, "../../..");
    execFileSync(process.execPath, ["scripts/prepare.mjs", "command"], { cwd: root });
    folder = fs.mkdtempSync(path.join(os.tmpdir(), "nerrit-report-"));
    store = openStore(folder);
    study = takeInStudy(store, Buffer.from(JSON.stringify(twoBoxes()))).id;
  }, 120_000);
  afterAll(() => {
    store.$client.close();
    fs.rmSync(folder, { recursive: true });
  });
  const page = async () => strFromU8((await makeReport(store, study, "html", AT, file)).bytes);

  it("is live: what is chosen and noted shows in the next one", async () => {
    expect((await page()).includes("<title>Does it deliver?</title>")).toBe(true);
    setChoice(store, study, { ...choiceOf(store, study), title: "Two boxes", unit: "Gb/s" });
    const next = await page();
    expect(next.includes("<title>Two boxes</title>")).toBe(true);
    expect(next.includes("reading, Gb/s")).toBe(true);
  });

  it("refuses a choice that makes no sense, and a study that is not there", () => {
    expect(() => setChoice(store, study, { unit: "furlongs" })).toThrow(/unit|MB\/s/i);
    expect(() => setChoice(store, "nobody", {})).toThrow(/no such study/);
    expect(choiceOf(store, study).title).toBe("Two boxes");
    expect(() => makeReport(store, "nobody", "html", AT, file)).toThrow(/no such study/);
  });

  it("keeps pictures of the bench without where they were taken, in the page and in the file", async () => {
    const { id } = keepPhoto(store, picture());
    expect(openPhoto(store, id).bytes.includes("ridge")).toBe(false);
    const photos = [{ id, section: "method" as const, caption: "The bench at the hut" }];
    setChoice(store, study, { ...choiceOf(store, study), photos });
    const shown = await page();
    expect(shown.includes('alt="The bench at the hut"')).toBe(true);
    const saved = StudyFile.parse(JSON.parse(strFromU8(saveStudy(store, study).bytes)));
    expect(saved.photos).toHaveLength(1);
    // Taken in again, it is reported the same.
    const again = takeInStudy(store, saveStudy(store, study).bytes).id;
    expect(choiceOf(store, again)).toEqual(choiceOf(store, study));
    expect(() => keepPhoto(store, Buffer.from("<svg/>"))).toThrow(/neither PNG nor JPEG/);
  });

  it("keeps pictures of parts and rigs with the study, and leaves out what is not there", () => {
    const { id } = keepPhoto(store, picture());
    const photos = [{ id, caption: "the chip" }];
    const [rig] = openStudy(store, study).rigs;
    const [part] = rig!.parts;
    const { id: partId, ...asEntered } = part!;
    changePart(store, partId, { ...asEntered, photos });
    const missing = { id: "0".repeat(64), caption: "lost" };
    const [stored] = rigsOfStudy(store, study);
    changeRig(store, rig!.id, { ...RigDraft.parse(stored), photos: [...photos, missing] });
    const again = openStudy(store, takeInStudy(store, saveStudy(store, study).bytes).id).rigs[0]!;
    expect(again.photos).toEqual(photos);
    expect(again.parts[0]!.photos).toEqual(photos);
    // A picture makes no other rig of it.
    expect(() => addRig(store, study, { ...RigDraft.parse(stored), photos: [] })).toThrow(
      /already/,
    );
  });

  it("issues it under numbers, and says in the next what changed", async () => {
    expect(await issueReport(store, study, file)).toBe(1);
    setChoice(store, study, { ...choiceOf(store, study), title: "Two boxes, again" });
    expect(await issueReport(store, study, file)).toBe(2);
    expect(issuesOf(store, study).map(({ number, title }) => [number, title])).toEqual([
      [2, "Two boxes, again"],
      [1, "Two boxes"],
    ]);
    const second = strFromU8(openIssue(store, study, 2).page);
    expect(second.includes("Compared with issue 1")).toBe(true);
    expect(() => openIssue(store, study, 3)).toThrow(/no such issue/);
    expect(() => openIssue(store, study, NaN)).toThrow(/no such issue/);
    const kept = unzipSync(openIssue(store, study, 1).archive);
    expect(Object.keys(kept)).toEqual(expect.arrayContaining(["report.html", "study.zip"]));
  });

  it("never changes what was issued: not with the study, not when it goes, not with the program", () => {
    const before = [1, 2].map((number) => openIssue(store, study, number));
    setNotes(store, study, { notes: "changed since" });
    setChoice(store, study, { title: "Something else" });
    deleteStudy(store, study);
    store.$client.close();
    store = openStore(folder); // every migration that there is
    for (const { number, page: was, archive, ...rest } of before) {
      const now = openIssue(store, study, number);
      expect(now).toMatchObject(rest);
      expect([Buffer.compare(now.page, was), Buffer.compare(now.archive, archive)]).toEqual([0, 0]);
    }
    expect(allIssues(store).filter(({ studyId }) => studyId === study)).toHaveLength(2);
  });
});
