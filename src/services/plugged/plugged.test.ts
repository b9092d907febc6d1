import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { linksOf } from "@/core/chain/link";
import { disagreements } from "@/core/system/detected";
import { openStore, type Store } from "@/store/database";
import { thisMachine } from "../hosts/machines";
import { rigOfPlugged } from "./plugged";
import { shelf } from "../shelf/shelf";
import { createStudy, findRig } from "../studies/studies";
import { askSystem } from "./system";

const SYSTEMS = path.resolve(import.meta.dirname, "../../../demo/systems");
let folder: string;
let store: Store;
let study: string;
beforeEach(() => {
  folder = fs.mkdtempSync(path.join(os.tmpdir(), "nerrit-plugged-"));
  store = openStore(folder);
  study = createStudy(store, { title: "Plugged in" });
});
afterEach(() => {
  store.$client.close();
  fs.rmSync(folder, { recursive: true });
});
const make = (tree: string, input: object) =>
  rigOfPlugged(store, study, input, thisMachine(path.join(SYSTEMS, tree)));
const cable = (modes: string[]) => ({
  draft: { kind: "cable", name: "K9", connectors: [{ side: "through", modes }] },
});

describe("a rig of what is plugged in", () => {
  it("is made with all its parts in one step, and runs as the system says", async () => {
    const { id, made } = await make("usb-10g-hub", {
      path: "/mnt/moraine",
      cables: [{ before: 1, part: cable(["usb-480m", "usb-5g", "usb-10g"]) }],
    });
    const { rig } = findRig(store, id);
    expect(made).toBe(rig.parts.length);
    expect(rig.parts.map(({ kind }) => kind)).toEqual(["host-port", "cable", "hub", "drive"]);
    expect(rig.fileSystem).toBe("exfat");
    expect(linksOf(rig).map(({ mode }) => mode?.id)).toEqual(["usb-10g", "usb-10g"]);
    const report = await askSystem(
      { path: "/mnt/moraine" },
      thisMachine(path.join(SYSTEMS, "usb-10g-hub")),
    );
    expect(disagreements(rig, report)).toEqual([]);
  });

  it("takes what is on the shelf already, so that the second one makes nothing anew", async () => {
    const first = await make("usb-10g-hub", { path: "/mnt/moraine" });
    const before = shelf(store).length;
    const { id, made } = await make("usb-10g-hub", { path: "/mnt/moraine" });
    expect(made).toBe(shelf(store).length - before);
    expect(made).toBe(0);
    expect(id).toBe(first.id);
  });

  it("has the cable whose chip says what it is, and holds it against what is said of it", async () => {
    const tree = "usb-c-slow-cable";
    const { id } = await make(tree, { path: "/mnt/twin" });
    const { rig } = findRig(store, id);
    const [, chip] = rig.parts;
    expect(chip).toMatchObject({
      kind: "cable",
      name: "USB-C cable, 5 Gb/s a lane",
    });
    const report = await askSystem({ path: "/mnt/twin" }, thisMachine(path.join(SYSTEMS, tree)));
    expect(disagreements(rig, report)).toEqual([]);
    const bragging = {
      ...chip!,
      name: "K5",
      connectors: [
        { side: "through" as const, modes: ["usb-480m", "usb-5g", "usb-10g", "usb-20g"] },
      ],
    };
    const [found, ...more] = disagreements({ ...rig, parts: rig.parts.with(1, bragging) }, report);
    expect(found!.text).toMatch(/K5 is declared to carry .*20 Gb\/s; its own chip says .*5 Gb\/s/);
    expect(more).toEqual([]);
  });

  it("asks for the link where the system does not say it", async () => {
    const root = path.join(folder, "system");
    const at = path.join(root, "sys/devices/virtual/block/loop3");
    fs.mkdirSync(path.join(at, "loop"), { recursive: true });
    fs.writeFileSync(path.join(at, "dev"), "7:3\n");
    fs.writeFileSync(path.join(at, "size"), "2048\n");
    fs.mkdirSync(path.join(root, "sys/dev/block"), { recursive: true });
    fs.mkdirSync(path.join(root, "sys/class/block"), { recursive: true });
    fs.symlinkSync("../../devices/virtual/block/loop3", path.join(root, "sys/dev/block/7:3"));
    fs.symlinkSync("../../devices/virtual/block/loop3", path.join(root, "sys/class/block/loop3"));
    const asked = { path: "/dev/loop3" };
    await expect(rigOfPlugged(store, study, asked, thisMachine(root))).rejects.toMatchObject({
      fields: [{ path: "mode" }],
    });
    expect(shelf(store)).toEqual([]);
    const { id, made } = await rigOfPlugged(
      store,
      study,
      { ...asked, mode: "usb-5g" },
      thisMachine(root),
    );
    expect(made).toBe(2);
    expect(linksOf(findRig(store, id).rig)[0]!.mode!.id).toBe("usb-5g");
  });

  it("leaves nothing behind where something is wrong", async () => {
    const wrong = [
      { path: "/mnt/moraine", cables: [{ before: 1, part: { id: "gone" } }] },
      { path: "/mnt/moraine", cables: [{ before: 1, part: cable(["usb-9g"]) }] },
      { path: "/no/such/place" },
      { path: "relative" },
      {
        path: "/mnt/moraine",
        cables: [1, 1].map((before) => ({ before, part: cable(["usb-5g"]) })),
      },
    ];
    for (const input of wrong) {
      await expect(make("usb-10g-hub", input)).rejects.toThrow();
      expect(shelf(store)).toEqual([]);
    }
  });
});
