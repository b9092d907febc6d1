import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import fc from "fast-check";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { MARKS } from "@/core/study/found-words";
import { openStore, type Store } from "@/store/database";
import { getStudy } from "@/store/studies";
import { addPart } from "../shelf/shelf";
import { setNotes } from "./change-study";
import { setLabels, setStudyAside } from "./labels";
import { removeStudy } from "./removal";
import { pageOfStudies, STUDIES_A_PAGE, type StudyQuery } from "./search";
import { studyDocument } from "./save-study";
import { takeInStudy } from "./study-file";
import { addRig, createStudy } from "./studies";

let folder: string;
let store: Store;
beforeEach(() => {
  folder = fs.mkdtempSync(path.join(os.tmpdir(), "nerrit-search-"));
  store = openStore(folder);
});
afterEach(() => {
  store.$client.close();
  fs.rmSync(folder, { recursive: true });
});

const ALL: StudyQuery = { sought: "", tag: "", aside: false, page: 0 };
const page = (query: Partial<StudyQuery> = {}) => pageOfStudies(store, { ...ALL, ...query }, 1e4);
const titles = (query: Partial<StudyQuery> = {}) =>
  page(query).studies.map(({ study }) => study.title);

/** A study of one rig, behind an enclosure that is called so. */
function study(title: string, enclosure = "Box"): string {
  const part = (kind: string, name: string, connectors: object[]) =>
    addPart(store, { kind, name, connectors });
  const modes = ["usb-5g"];
  const id = createStudy(store, { title });
  const chain = [
    part("host-port", "Port", [{ side: "down", modes }]),
    part("enclosure", enclosure, [
      { side: "up", modes },
      { side: "down", modes },
    ]),
    part("drive", "Drive", [{ side: "up", modes }]),
  ];
  addRig(store, id, { name: "Rig", partIds: chain });
  return id;
}

describe("studies are found", () => {
  it("by their title, notes, tags and parts, all of the words and whatever their case, the title first", () => {
    const cables = study("Which cable?");
    const boxes = study("Which box?", "Séracs M");
    setNotes(store, boxes, { notes: "The cable stays in the field kit." });
    setLabels(store, cables, { title: "Which cable?", tags: ["field", "2026"] });
    expect(titles({ sought: "CABLE" })).toEqual(["Which cable?", "Which box?"]);
    expect(titles({ sought: "cable kit" })).toEqual(["Which box?"]);
    expect(titles({ sought: "2026" })).toEqual(["Which cable?"]);
    expect(titles({ sought: "seracs" })).toEqual(["Which box?"]);
    expect(titles({ sought: "nowhere" })).toEqual([]);
    const [found] = page({ sought: "kit" }).studies;
    expect(found!.excerpt).toContain(`${MARKS[0]}kit${MARKS[1]}`);
  });

  it("as they are now: renamed, removed, or with another part", () => {
    const id = study("Old title");
    expect(titles({ sought: "old" })).toEqual(["Old title"]);
    setLabels(store, id, { title: "New title", tags: [] });
    expect(titles({ sought: "old" })).toEqual([]);
    expect(titles({ sought: "new" })).toEqual(["New title"]);
    removeStudy(store, id);
    expect(titles({ sought: "new" })).toEqual([]);
  });

  it("also where they are set aside, and out of the list then", () => {
    const id = study("Last year");
    study("This year");
    setStudyAside(store, id, { aside: true });
    expect(titles()).toEqual(["This year"]);
    expect(titles({ aside: true })).toEqual(["Last year"]);
    expect(titles({ sought: "last" })).toEqual(["Last year"]);
    expect(page()).toMatchObject({ own: 2, aside: 1 });
    setStudyAside(store, id, { aside: false });
    expect(titles().toSorted()).toEqual(["Last year", "This year"]);
  });

  it("by tag, each kept once, and page by page", () => {
    for (let i = 0; i < STUDIES_A_PAGE + 3; i++) {
      const id = createStudy(store, { title: `Study ${i}` });
      if (i % 2 === 0) setLabels(store, id, { title: `Study ${i}`, tags: ["even", "even"] });
    }
    expect(page().total).toBe(STUDIES_A_PAGE + 3);
    expect(page({ page: 1 }).studies).toHaveLength(3);
    expect(page().tags).toEqual([{ tag: "even", count: 12 }]);
    expect(page({ tag: "even" }).total).toBe(12);
  });

  it("one after another where a page cannot wait for all of them", async () => {
    for (let i = 0; i < 5; i++) study(`Study ${i}`);
    expect(pageOfStudies(store, { ...ALL, sought: "study" }, 0)).toMatchObject({ waiting: 5 });
    await vi.waitFor(
      () => expect(pageOfStudies(store, { ...ALL, sought: "study" }, 0).waiting).toBe(0),
      { timeout: 60_000 },
    );
    expect(titles({ sought: "study" })).toHaveLength(5);
  });

  it("with whatever signs are typed", () => {
    study('He said "box" AND (NOT) NEAR*');
    fc.assert(
      fc.property(fc.string({ unit: "grapheme", maxLength: 60 }), (sought) => {
        expect(Array.isArray(titles({ sought }))).toBe(true);
      }),
      { examples: [['"'], ["* OR title:"], ["NEAR("], ["-"], ['""" ""'], ["a:b"]] },
    );
    expect(titles({ sought: '"box" AND' })).toHaveLength(1);
  });
});

describe("a study's labels", () => {
  it("are refused where they are too many, too long, or hold a comma", () => {
    const id = study("A");
    const wrong = (tags: unknown) => () => setLabels(store, id, { title: "A", tags });
    expect(wrong(Array.from({ length: 13 }, (_, i) => `tag ${i}`))).toThrow();
    expect(wrong(["x".repeat(31)])).toThrow();
    expect(wrong(["a,b"])).toThrow();
    expect(wrong([""])).toThrow();
    expect(() => setLabels(store, id, { title: "", tags: [] })).toThrow();
    expect(() => setLabels(store, "none", { title: "A", tags: [] })).toThrow(/no such study/);
  });

  it("go out and come in with the study's file", () => {
    const id = study("A");
    setLabels(store, id, { title: "A", tags: ["field kit", "2026"] });
    const file = new TextEncoder().encode(JSON.stringify(studyDocument(store, id).document));
    const back = takeInStudy(store, file);
    expect(getStudy(store, back.id)!.tags).toEqual(["field kit", "2026"]);
  });

  it("are not written over what somebody else wrote meanwhile", () => {
    const id = study("A");
    setLabels(store, id, { title: "B", tags: ["mine"] });
    const late = { title: "C", tags: [], was: { title: "A", tags: [] } };
    expect(() => setLabels(store, id, late)).toThrow(/changed elsewhere/);
    expect(titles()).toEqual(["B"]);
  });
});
