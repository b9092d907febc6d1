import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import type { PartInput } from "@/core/chain/part";
import { findMode } from "@/core/ledger/catalogue";
import { openStore, type Store } from "@/store/database";
import { thisMachine } from "../hosts/machines";
import { fitting } from "./fitting";
import { addOwnMode, dropOwnMode, ownModes } from "../shelf/own-modes";
import { addPart, importShelf, retire, searchShelf } from "../shelf/shelf";
import { addRig, createStudy, openStudy } from "../studies/studies";
import { setDemands } from "../studies/change-study";
import { openDemo } from "../testing/demo-store";
import { askSystem } from "./system";

let folder: string;
let store: Store;
beforeEach(() => {
  folder = fs.mkdtempSync(path.join(os.tmpdir(), "nerrit-setup-"));
  store = openStore(folder);
});
afterEach(() => {
  store.$client.close();
  fs.rmSync(folder, { recursive: true });
});

const USB = ["usb-5g", "usb-10g"];
const add = (kind: PartInput["kind"], name: string, ...sides: [string, string[]][]) =>
  addPart(store, { kind, name, connectors: sides.map(([side, modes]) => ({ side, modes })) });

describe("a rig with all that is round it", () => {
  it("comes back as it was entered", () => {
    const study = createStudy(store, { title: "Round" });
    const port = add("host-port", "port", ["down", USB]);
    const box = add("enclosure", "box", ["up", USB], ["down", ["sata-6g"]]);
    const [one, two, old] = ["one", "two", "old"].map((name) =>
      add("drive", name, ["up", ["sata-6g"]]),
    );
    const sata = add("host-port", "sata", ["down", ["sata-6g"]]);
    const setup = {
      host: "tower",
      settled: [{ partId: box, mode: "usb-5g", by: "tester" }],
      held: [{ partId: box, what: "display", read: 0, write: 100 }],
      layout: "raid-1",
      assumptions: { frame: 4096 },
    };
    const ids = { partIds: [port, box, one!], besideIds: [two!], otherIds: [sata, old!] };
    addRig(store, study, { name: "all", ...ids, ...setup });
    const [rig] = openStudy(store, study).rigs;
    expect(rig).toMatchObject(setup);
    const names = (parts: { name: string }[]) => parts.map(({ name }) => name);
    expect(names(rig!.parts)).toEqual(["port", "box", "one"]);
    expect(names(rig!.beside)).toEqual(["two"]);
    expect(names(rig!.other)).toEqual(["sata", "old"]);
  });

  it("is refused where what is assumed of its links leaves nothing", () => {
    const study = createStudy(store, { title: "Frames" });
    const lan = add("host-port", "lan", ["down", ["ethernet-1g"]]);
    const share = add("drive", "share", ["up", ["ethernet-1g"]]);
    const rig = { name: "r", partIds: [lan, share] };
    expect(() => addRig(store, study, { ...rig, assumptions: { mtu: 40 } })).toThrow(/mtu/);
    addRig(store, study, { ...rig, assumptions: { mtu: 9000, payload: 7 } });
    expect(openStudy(store, study).rigs).toHaveLength(1);
  });

  it("is refused where a part of it is nowhere, wherever it stands", () => {
    const study = createStudy(store, { title: "Missing" });
    const port = add("host-port", "port", ["down", USB]);
    const stick = add("drive", "stick", ["up", USB]);
    for (const more of [{ besideIds: ["gone"] }, { otherIds: [port, "gone"] }]) {
      expect(() => addRig(store, study, { name: "r", partIds: [port, stick], ...more })).toThrow(
        /not on the shelf/,
      );
    }
    expect(openStudy(store, study).rigs).toEqual([]);
  });
});

describe("parts for a place", () => {
  it("are those that fit, then the others with the reason, searched by words", () => {
    const port = add("host-port", "port", ["down", USB]);
    add("cable", "blue lead", ["through", USB]);
    add("cable", "red lead", ["through", ["sata-6g"]]);
    const gone = add("cable", "gone lead", ["through", USB]);
    retire(store, gone, true);
    const found = fitting(store, { before: [port], sought: "LEAD" });
    expect(found.fits.map(({ name }) => name)).toEqual(["blue lead"]);
    expect(found.cannot).toMatchObject([{ part: { name: "red lead" }, why: expect.any(String) }]);
    expect(fitting(store, { before: [port], kinds: ["drive"] }).total).toBe(0);
    expect(() => fitting(store, { before: ["gone"] })).toThrow(/not on the shelf/);
  });

  it("are cut to what can be looked through, of however many", () => {
    const rows = Array.from({ length: 300 }, (_, i) => `host-port,Port ${i},usb-5g`);
    importShelf(store, `kind,name,modes_down\n${rows.join("\n")}`);
    const { fits, total } = fitting(store, {});
    expect(total).toBe(300);
    expect(fits.length).toBeLessThan(100);
  });
});

describe("modes of the tester's own", () => {
  const draft = {
    name: "Fjord",
    rate: 5,
    lanes: 1,
    code: "8b/10b",
    payload: 1000,
    overhead: 0,
    duplex: "full",
    shared: "no",
    protocol: "scsi",
    low: 0.5,
    high: 1,
  };

  it("are listed once, and still understood when they are taken off the list", () => {
    const id = addOwnMode(store, draft);
    expect(addOwnMode(store, draft)).toBe(id);
    expect(ownModes(store)).toEqual([id]);
    add("drive", "d", ["up", [id]]);
    dropOwnMode(store, id);
    expect(ownModes(store)).toEqual([]);
    expect(
      findMode(
        searchShelf(store, { sought: "d", kind: null, page: 0 }).parts[0]!.connectors[0]!.modes[0]!,
      )!.name,
    ).toBe("Fjord");
    expect(() => dropOwnMode(store, id)).toThrow(/no such mode/);
  });

  it("are refused with the field that is wrong", () => {
    expect(() => addOwnMode(store, { ...draft, rate: -1 })).toThrow(/^rate: /);
    expect(() => addOwnMode(store, { ...draft, low: 0.9, high: 0.8 })).toThrow(/^low: /);
  });
});

describe("the shelf", () => {
  it("shows the best that was measured through each part, and that it was simulated", () => {
    store.$client.close();
    store = openDemo(folder);
    const { parts } = searchShelf(store, { sought: "", kind: "cable", page: 0 });
    expect(parts.map(({ name }) => name)).toEqual(["E3", "K2", "K5", "K7", "L1"]);
    const [, slow, fast] = parts.map(({ measured }) => measured!);
    expect(slow!.mbps).toBeLessThan(fast!.mbps);
    expect(slow!.simulated).toBe(true);
    expect(searchShelf(store, { sought: "FRN-MOR", kind: null, page: 0 }).total).toBe(1);
  });
});

describe("demands of a study", () => {
  const copy = { what: "card", direction: "read", gigabytes: 64, minutes: 10 };
  it("are kept as they are set", () => {
    const id = createStudy(store, { title: "Wanted" });
    setDemands(store, id, [{ name: "card", copies: [copy] }]);
    expect(openStudy(store, id).study.demands).toEqual([
      { name: "card", streams: [], copies: [copy] },
    ]);
    expect(() => setDemands(store, id, [{ name: "nothing" }])).toThrow(/add a stream or a copy/);
    expect(() => setDemands(store, "none", [])).toThrow(/no such study/);
    expect(openStudy(store, id).study.demands).toHaveLength(1);
  });
});

describe("asking the system", () => {
  const root = path.resolve(import.meta.dirname, "../../../demo/systems/sata-3g");
  it("answers, or says in plain words why not", async () => {
    expect((await askSystem({ path: "/mnt/scree" }, thisMachine(root))).ways).toHaveLength(1);
    await expect(askSystem({ path: "mnt" }, thisMachine(root))).rejects.toThrow(/absolute path/);
    await expect(askSystem({ path: "" }, thisMachine(root))).rejects.toThrow(/name a directory/);
    await expect(askSystem({ path: "/elsewhere" }, thisMachine(root))).rejects.toMatchObject({
      status: 422,
    });
  });
});
