import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import type { Store } from "@/store/database";
import { openCompared } from "./comparison";
import { openDemo } from "../testing/demo-store";
import { judgedOf } from "./judged";

describe("the demo scenario, judged", () => {
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
  const judged = (study: string) => judgedOf(store, openCompared(store, study), "MB/s");

  it("tells apart who delivers, who does in bursts only, and who falls short", () => {
    const { judged: all, alongside } = judged("demo-enclosures");
    const of = (name: string) =>
      all
        .filter(({ part }) => part.name === name)
        .map(
          ({ claim, kind }) =>
            `${claim.kind} ${"direction" in claim ? claim.direction : ""}: ${kind}`,
        );
    expect(of("Serac")).toEqual(["peak read: Delivers", "peak write: Delivers"]);
    expect(of("Nunatak")).toEqual(["peak read: Delivers", "peak write: Delivers"]);
    expect(of("Cornice")).toEqual([
      "peak read: Delivers",
      "peak write: Delivers in bursts only",
      "sustained write: Falls short in this combination",
    ]);
    expect(of("Till")).toEqual(["peak read: Falls short", "peak write: Falls short"]);
    const heat = all.find(
      ({ part, claim }) => part.name === "Cornice" && claim.kind === "sustained",
    );
    expect(heat!.reasons.join()).toMatch(
      /own cache is not the cause: .* by its trace the cause is heat/,
    );
    expect(alongside[0]!.enclosures.map(({ part }) => part.name)).toEqual([
      "Serac",
      "Nunatak",
      "Cornice",
      "Till",
    ]);
  });

  it("finds the drive whose cache gives out, and accuses no enclosure of it", () => {
    const { judged: all } = judged("demo-day");
    const talus = all.find(({ part }) => part.name.startsWith("Talus"))!;
    // It was measured in one box only: that the two work badly together is not ruled out.
    expect(talus).toMatchObject({
      kind: "Falls short in this combination",
      claim: { kind: "sustained" },
    });
    for (const { part, kind } of all)
      if (part.kind === "enclosure") expect(kind).not.toMatch(/^Falls short/);
  });
});
