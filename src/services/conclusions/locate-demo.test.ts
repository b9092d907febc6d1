import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { locate, placesOf, type Located } from "@/core/locate/locate";
import { SHOWN } from "@/core/locate/findings/certainty";
import { placeName } from "@/core/locate/findings/sentences";
import type { Store } from "@/store/database";
import { openCompared } from "./comparison";
import { openDemo } from "../testing/demo-store";
import { shelfFor } from "../shelf/shelf";

describe("the demo scenario, located", () => {
  let folder: string;
  let store: Store;
  beforeAll(() => {
    folder = fs.mkdtempSync(path.join(os.tmpdir(), "nerrit-demo-"));
    store = openDemo(folder);
  }, 60_000);
  afterAll(() => {
    store.$client.close();
    fs.rmSync(folder, { recursive: true });
  });

  /** What is named first for a rig of a study, and how likely. */
  function first(studyId: string, rigId: string, drill: string, direction: string) {
    const { evidence } = openCompared(store, studyId);
    const seen = [...evidence.of.values()]
      .flat()
      .filter((one) => one.drill.name === drill && one.drill.direction === direction);
    const found = locate(seen, shelfFor(store, studyId), {
      of: ({ rig }) => rig.id === rigId,
    })[0]!;
    const [top] = placesOf(found.explanations);
    return { name: nameOf(found), kind: top!.explanations[0]!.kind, chance: top!.probability };
  }
  const nameOf = (found: Located) =>
    placeName(placesOf(found.explanations)[0]!.explanations[0]!, found);

  it.each([
    ["demo-enclosures", "demo-box-till", "haul", "read"],
    ["demo-enclosures", "demo-box-till-esker", "haul", "write"],
    ["demo-enclosures", "demo-box-hub", "haul", "read"],
    ["demo-enclosures", "demo-box-nunatak", "haul", "read"],
    ["demo-day", "demo-day-user-space", "haul", "read"],
    ["demo-day", "demo-day-memory", "haul", "read"],
    ["demo-day", "demo-day-talus", "long-fill", "write"],
    ["demo-base-camp", "demo-camp-bay-3", "haul", "read"],
  ])("settles %s, %s, %s %s, as a tester would have", (study, rig, drill, direction) => {
    expect(first(study, rig, drill, direction).chance).toBeGreaterThanOrEqual(SHOWN);
  });

  it("leaves one cable open, with a step that tells more", () => {
    const { evidence } = openCompared(store, "demo-enclosures");
    const seen = [...evidence.of.values()]
      .flat()
      .filter(({ drill }) => drill.name === "haul" && drill.direction === "read");
    const [found] = locate(seen, shelfFor(store, "demo-enclosures"), {
      of: ({ rig }) => rig.id === "demo-box-k7",
    });
    const [top] = placesOf(found!.explanations);
    expect(top!.probability).toBeLessThan(SHOWN);
    expect(top!.probability).toBeGreaterThan(0.8);
    expect(found!.nextSwaps[0]!.rig.parts.map(({ name }) => name)).toContain("K7");
  });

  it.each([
    ["demo-enclosures", "demo-box-k7", "a cable that drops the link", /^K7$/],
    [
      "demo-enclosures",
      "demo-box-till",
      "an enclosure that falls short whatever is in it",
      /^Till$/,
    ],
    ["demo-enclosures", "demo-box-till-esker", "the same with another drive", /^Till$/],
    ["demo-enclosures", "demo-box-hub", "a hub at its slow side, as designed", /link to Kame/],
    ["demo-enclosures", "demo-box-serac", "a clean rig", /link to Serac/],
    ["demo-day", "demo-day-user-space", "a file system that halves the rate", /file system ntfs/],
    ["demo-day", "demo-day-memory", "a rate that memory gave", /memory/],
    ["demo-base-camp", "demo-camp-bay-3", "a bad bay", /bay 3 of Ogive/],
    ["demo-base-camp", "demo-camp-col", "an adapter without queueing", /driver mode/],
    [
      "demo-base-camp",
      "demo-camp-depot",
      "a path over the network",
      /link through E3 to Base camp depot/,
    ],
  ])("%s, %s: %s", (study, rig, _, name) => {
    const found = first(study, rig, "haul", "read");
    expect(found.name).toMatch(name);
    expect(found.chance).toBeGreaterThan(0.5);
  });
});
