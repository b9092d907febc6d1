import fs from "node:fs";
import path from "node:path";
import { afterEach, describe, expect, it, vi } from "vitest";
import { inUse, pathsOf, SeenDrive } from "@/core/system/drive";
import {
  found,
  inside,
  makeSystem,
  mounted,
  scsiDisk,
  type MadeUp,
} from "../testing/made-up-system";
import { SystemTree } from "../probe/tree";
import { listDrives, pluggedState } from "./drives";
import { Plugged } from "./follow";
import { PATIENCE_MS } from "../../../tests/support/patience";

const SYSTEMS = path.resolve(import.meta.dirname, "../../../demo/systems");
const list = (tree: string) => listDrives(path.join(SYSTEMS, tree));
const roots: string[] = [];
afterEach(() => {
  for (const root of roots.splice(0)) fs.rmSync(root, { recursive: true });
});
const system = (files: MadeUp) => {
  const root = makeSystem(files);
  roots.push(root);
  return root;
};
const SATA = "/sys/devices/pci0000:00/0000:00:17.0/ata1/host0/target0:0:0/0:0:0:0";

describe("the drives of a system", () => {
  it.each(fs.readdirSync(SYSTEMS).filter((name) => !name.includes(".")))(
    "%s: are what the schema says, and each is reached by a path",
    async (tree) => {
      for (const drive of await list(tree)) {
        expect(() => SeenDrive.parse(drive)).not.toThrow();
        expect(pathsOf(drive).length).toBeGreaterThan(0);
      }
    },
  );

  it("say maker, size, link, what they hang on, and where they are mounted", async () => {
    const [drive, ...others] = await list("usb-10g-hub");
    expect(others).toEqual([]);
    expect(drive).toMatchObject({
      name: "Moraine 1T",
      maker: "Firn",
      serial: "FRN-MOR-0417",
      link: { mode: "usb-10g" },
      kind: "disk",
      system: false,
    });
    expect(drive!.hangsOn).toMatch(/^Serac M, Cornice 4/);
    expect(pathsOf(drive!)).toEqual(["/mnt/moraine", "/dev/sdb1", "/dev/sdb"]);
    expect(drive!.serials).toContain("FRN-MOR-0417");
  });

  it("name what holds them, and volumes and shares for what they are", async () => {
    const raid = await list("raid-two-disks");
    expect(raid.map(({ kind }) => kind)).toEqual(["disk", "disk", "raid", "volume"]);
    expect(raid.filter(inUse)).toHaveLength(4);
    expect(raid[0]!.heldBy).toEqual(["md0"]);
    const [share] = await list("network-mount");
    expect(share).toMatchObject({ kind: "share", link: { mode: "ethernet-1g" } });
    expect(pathsOf(share!)).toEqual(["/mnt/store"]);
  });

  it("mark what the system lies on, leave out what holds nothing, and know memory and files", async () => {
    const at = (name: string) => `/sys/devices/virtual/block/${name}`;
    const root = system({
      ...scsiDisk(SATA, "sda", "8:0"),
      ...inside(at("zram0"), { dev: "252:0", size: "2048" }),
      ...found(at("zram0"), "zram0", "252:0"),
      ...inside(at("loop0"), {
        dev: "7:0",
        size: "2048",
        ro: "1",
        "loop/backing_file": "/x/image",
      }),
      ...found(at("loop0"), "loop0", "7:0"),
      ...inside(at("loop1"), { dev: "7:1", size: "0" }),
      ...found(at("loop1"), "loop1", "7:1"),
      ...mounted("8:0", "/", "ext4", "/dev/sda"),
    });
    const drives = await listDrives(root);
    // The file of loop0 lies on the system's own drive, and so does loop0; the system lies on neither.
    expect(drives.map(({ id, kind, system: own }) => [id, kind, own])).toEqual([
      ["loop0", "loop", false],
      ["zram0", "memory", false],
      ["sda", "disk", true],
    ]);
    expect(drives[0]).toMatchObject({ name: "/x/image", readOnly: true });
  });

  it("are looked at without asking any of them for anything", async () => {
    const root = system({
      ...scsiDisk(SATA, "sda", "8:0"),
      ...inside(`${SATA}/hwmon/hwmon1`, { temp1_input: "41000" }),
    });
    const bytes = vi.spyOn(SystemTree.prototype, "bytes");
    await listDrives(root);
    expect(bytes.mock.calls.map(([file]) => file).filter((file) => /temp/.test(file))).toEqual([]);
    bytes.mockClear();
    await pluggedState(root);
    const read = bytes.mock.calls.map(([file]) => file);
    bytes.mockRestore();
    expect(read.every((file) => /\/size$|mountinfo$/.test(file))).toBe(true);
  });
});

describe("following what is plugged in", () => {
  it("tells at once, again when something changes, and looks at nothing once nobody follows", async () => {
    const root = system(scsiDisk(SATA, "sda", "8:0"));
    const plugged = new Plugged(root);
    const told: string[][] = [];
    const leave = plugged.follow((drives) => told.push(drives.map(({ id }) => id)));
    const until = (count: number) =>
      vi.waitFor(() => expect(told).toHaveLength(count), PATIENCE_MS);
    await until(1);
    const second = SATA.replaceAll("ata1", "ata2").replace("0:0:0:0", "1:0:0:0");
    const files = Object.entries(scsiDisk(second, "sdb", "8:16"));
    for (const [file, value] of files) {
      const place = path.join(root, file);
      fs.mkdirSync(path.dirname(place), { recursive: true });
      if (String(value).startsWith("-> "))
        fs.symlinkSync(
          path.relative(path.dirname(place), path.join(root, String(value).slice(3))),
          place,
        );
      else fs.writeFileSync(place, value);
    }
    await until(2);
    expect(told).toEqual([["sda"], ["sda", "sdb"]]);
    leave();
    const read = vi.spyOn(SystemTree.prototype, "list");
    await new Promise((resolve) => setTimeout(resolve, 1200));
    expect(read).not.toHaveBeenCalled();
    read.mockRestore();
  });

  it("tells whoever comes after one who left in mid-look", async () => {
    const plugged = new Plugged(system(scsiDisk(SATA, "sda", "8:0")));
    const unheard = vi.fn();
    plugged.follow(unheard)();
    // Long enough for that look to end, though nobody waits for it.
    await new Promise((resolve) => setTimeout(resolve, 300));
    expect(unheard).not.toHaveBeenCalled();
    const told = vi.fn();
    const leave = plugged.follow(told);
    await vi.waitFor(() => expect(told).toHaveBeenCalled(), PATIENCE_MS);
    leave();
  });

  it("tells whoever follows anew as soon as told, without waiting for the next look", async () => {
    vi.useFakeTimers({ toFake: ["setInterval"] });
    try {
      const plugged = new Plugged(system(scsiDisk(SATA, "sda", "8:0")));
      const once = () =>
        new Promise<string[]>((resolve) => {
          const leave = plugged.follow((drives) => {
            queueMicrotask(() => leave());
            resolve(drives.map(({ id }) => id));
          });
        });
      for (let i = 0; i < 3; i++) expect(await once()).toEqual(["sda"]);
    } finally {
      vi.useRealTimers();
    }
  });
});
