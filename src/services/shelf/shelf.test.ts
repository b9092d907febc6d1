import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { openStore, type Store } from "@/store/database";
import {
  addPart,
  changePart,
  exportShelf,
  importShelf,
  PAGE_SIZE,
  retire,
  searchShelf,
  shelf,
} from "./shelf";

let folder: string;
let store: Store;
beforeEach(() => {
  folder = fs.mkdtempSync(path.join(os.tmpdir(), "nerrit-shelf-"));
  store = openStore(folder);
});
afterEach(() => {
  store.$client.close();
  fs.rmSync(folder, { recursive: true });
});

const cable = (name: string, more: object = {}) => ({
  kind: "cable",
  name,
  connectors: [{ side: "through", modes: ["usb-5g"] }],
  ...more,
});
const names = (sought: string, page = 0) =>
  searchShelf(store, { kind: null, sought, page }).parts.map(({ name }) => name);

describe("the shelf", () => {
  it("finds parts by words in any of their texts, and takes wildcards for themselves", () => {
    addPart(store, cable("K5", { maker: "Tarn", tag: "blue tape" }));
    addPart(store, cable("100% copper", { model: "under_score" }));
    addPart(store, {
      ...cable("Stick"),
      kind: "drive",
      connectors: [{ side: "up", modes: ["usb-5g"] }],
    });
    expect(names("tarn blue")).toEqual(["K5"]);
    expect(names("%")).toEqual(["100% copper"]);
    expect(names("under_")).toEqual(["100% copper"]);
    expect(names("drive")).toEqual(["Stick"]);
    expect(names("tarn copper")).toEqual([]);
    expect(names("")).toHaveLength(3);
  });

  it("shows a page at a time of many thousand", () => {
    const rows = Array.from({ length: 2500 }, (_, i) => `cable,Cable ${i},usb-5g`);
    expect(importShelf(store, `kind,name,modes_through\n${rows.join("\n")}`)).toBe(2500);
    const { parts, total } = searchShelf(store, { kind: null, sought: "cable 12", page: 1 });
    expect(total).toBeGreaterThan(PAGE_SIZE);
    expect(parts.length).toBeLessThanOrEqual(PAGE_SIZE);
    expect(names("", 24)).toHaveLength(100);
    expect(names("", 25)).toEqual([]);
  });

  it("takes a file whole or not at all", () => {
    const bad = "kind,name,modes_through\ncable,Good,usb-5g\ncable,,usb-5g\n";
    expect(() => importShelf(store, bad)).toThrow(/parts 2, name/);
    for (const text of [
      "",
      "{",
      "[]",
      '{"format":"nerrit-shelf","version":9,"parts":[]}',
      "a,b\n1,2",
    ]) {
      expect(() => importShelf(store, text)).toThrow();
    }
    expect(shelf(store)).toEqual([]);
  });

  it.each(["json", "csv"] as const)("comes back from its own %s export", (format) => {
    addPart(
      store,
      cable("K5", { price: { amount: 24, currency: "EUR" }, notes: 'two\nlines, quoted "so"' }),
    );
    const first = shelf(store).map(({ id: _id, ...part }) => part);
    importShelf(store, exportShelf(store, format));
    const again = shelf(store).map(({ id: _id, ...part }) => part);
    expect(again).toEqual([...first, ...first]);
  });

  it("changes and retires what is there, and says so where it is not", () => {
    const id = addPart(store, cable("K5"));
    changePart(store, id, cable("K5 new"));
    expect(names("new")).toEqual(["K5 new"]);
    expect(() => changePart(store, id, { ...cable("x"), kind: "drive" })).toThrow();
    expect(() => changePart(store, "none", cable("x"))).toThrow(/no such part/);
    retire(store, id, true);
    expect(shelf(store)[0]!.retired).toBe(true);
    expect(JSON.parse(exportShelf(store, "json")).parts).toEqual([]);
    retire(store, id, false);
    expect(() => retire(store, "none", true)).toThrow(/no such part/);
  });
});
