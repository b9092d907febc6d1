import { describe, expect, it } from "vitest";
import { PartDraft, SIDES } from "../chain/part";
import { linkProblems } from "../chain/bottleneck";
import { BARE_RIG } from "../chain/rig";
import { enteredPart, readEntry } from "./entry";
import { findKinds } from "./find-kind";
import { GEAR_KINDS, gearName, KindEntry, likePart, partOfKind } from "./gear-kind";
import cables from "./kinds/cables.json";

const best = (typed: string) => findKinds(typed, GEAR_KINDS).kinds[0]?.id;
const kindOf = (id: string) => GEAR_KINDS.find((kind) => kind.id === id)!;
const part = (id: string) => ({ ...enteredPart(kindOf(id), "", "").draft, id });

describe("everyday kinds of gear", () => {
  it.each(GEAR_KINDS.map((kind) => [kind.id, kind] as const))("%s makes a part", (_, kind) => {
    const { draft } = enteredPart(kind, "", "");
    expect(PartDraft.safeParse(draft).error).toBeUndefined();
    expect(new Set(draft.connectors.map(({ side }) => side))).toEqual(new Set(SIDES[kind.kind]));
    expect(kind.sources.length).toBeGreaterThan(0);
  });

  it("have a name each, and hold what their schema says", () => {
    expect(new Set(GEAR_KINDS.map(({ id }) => id)).size).toBe(GEAR_KINDS.length);
    for (const entry of cables) expect(KindEntry.safeParse(entry).success).toBe(true);
  });

  it.each([
    ["10g nvme box", "SSD enclosure, USB 10 Gb/s, NVMe"],
    ["nvme enclosure usb 10 Gbps", "SSD enclosure, USB 10 Gb/s, NVMe"],
    ["20g nvme enclosure", "SSD enclosure, USB 20 Gb/s, NVMe"],
    ["tb3 enclosure nvme", "SSD enclosure, Thunderbolt 3, 40 Gb/s, NVMe"],
    ["5-bay 10g", "5-bay box, USB 10 Gb/s, SATA"],
    ["dock 40g two downstream", "Dock, 40 Gb/s, two downstream 10 Gb/s ports"],
    ["cable usb-c 40 gb/s", "USB-C cable, 40 Gb/s"],
    ["10g cable", "USB-C cable, 10 Gb/s"],
    ["usb c port 10g", "USB-C port, 10 Gb/s"],
    ["sata to ide", "SATA to parallel ATA adapter, UDMA 6"],
    ["dock with drive", "Dock with a drive built in, 10 Gb/s, NVMe and a pass-through port"],
    ["monitor hub", "Display with a hub, 5 Gb/s"],
    ["raid card", "RAID card, SAS 12 Gb/s and SATA, PCIe 3.0 ×8"],
    ["card four m.2", "Card with four M.2 drives, PCIe 3.0 ×16"],
    ["nvme gen4", "NVMe drive, PCIe 4.0 ×4"],
    ["hdd 3.5", "Hard disk, 3.5 inch, SATA 6 Gb/s"],
    ["nas 2.5g", "NAS, 2.5 Gb/s, SATA bays"],
    ["1g switch", "Network switch, 1 Gb/s"],
    ["usb-a 5g cable", "USB-A to USB-C cable, 5 Gb/s"],
    ["unknown usb-c cable", "USB-C cable, speed not known, to be measured"],
    ["usb stick", "USB stick, 5 Gb/s"],
    ["m2 slot pcie 4.0", "M.2 slot, PCIe 4.0 ×4"],
  ])("%s is found as %s", (typed, id) => {
    expect(best(typed)).toBe(id);
  });

  it("plug together as their names say", () => {
    const rig = (...ids: string[]) => ({
      ...BARE_RIG,
      id: "rig",
      name: "rig",
      parts: ids.map((id) => part(id)),
    });
    for (const chain of [
      [
        "USB-C port, 10 Gb/s",
        "USB-C cable, 10 Gb/s",
        "SSD enclosure, USB 10 Gb/s, NVMe",
        "NVMe drive, PCIe 4.0 ×4",
      ],
      [
        "USB-A port, 5 Gb/s",
        "USB-A to USB-C cable, 5 Gb/s",
        "Drive enclosure, USB 10 Gb/s, 2.5 inch SATA",
        "SATA SSD, 2.5 inch, 6 Gb/s",
      ],
      [
        "Thunderbolt 4 port, 40 Gb/s",
        "Thunderbolt 4 cable, 40 Gb/s",
        "SSD enclosure, Thunderbolt 3, 40 Gb/s, NVMe",
        "NVMe drive, PCIe 3.0 ×4",
      ],
      [
        "USB-C port, USB4 40 Gb/s",
        "USB-C cable, 40 Gb/s",
        "Dock, 40 Gb/s, two downstream 10 Gb/s ports",
        "USB-C cable, 10 Gb/s",
        "SSD enclosure, USB 10 Gb/s, NVMe",
        "NVMe drive, PCIe 3.0 ×4",
      ],
      [
        "PCIe slot, PCIe 4.0 ×16",
        "Card with four M.2 drives, PCIe 4.0 ×16",
        "NVMe drive, PCIe 4.0 ×4",
      ],
      [
        "Ethernet port, 2.5 Gb/s",
        "Network cable, 1 Gb/s, category 5e",
        "NAS, 2.5 Gb/s, SATA bays",
        "Hard disk, 3.5 inch, SATA 6 Gb/s",
      ],
      ["USB-C port, 10 Gb/s", "Card reader, CFexpress B, USB 10 Gb/s", "CFexpress card, type B"],
      [
        "Parallel ATA port, UDMA 6",
        "Parallel ATA cable, 80 wires",
        "SATA to parallel ATA adapter, UDMA 6",
        "SATA SSD, 2.5 inch, 6 Gb/s",
      ],
    ])
      expect([chain, linkProblems(rig(...chain))]).toEqual([chain, []]);
  });
});

describe("a part from one line", () => {
  it("is what its words say, called what they do not", () => {
    const { name, kinds, claims } = readEntry("Serac 10g nvme box 1000MB/s", GEAR_KINDS);
    expect({ name, kind: kinds[0]!.id, claims }).toEqual({
      name: "Serac",
      kind: "SSD enclosure, USB 10 Gb/s, NVMe",
      claims: "1000MB/s",
    });
    const { draft, doubts } = enteredPart(kinds[0]!, name, claims);
    expect(doubts).toEqual([]);
    expect(draft.claims).toHaveLength(2);
  });

  it.each([
    [
      "Desk SSD: nvme 4.0 drive, 7000/5100 MB/s",
      "Desk SSD",
      "NVMe drive, PCIe 4.0 ×4",
      "7000/5100 MB/s",
    ],
    ["K5 10g cable", "K5", "USB-C cable, 10 Gb/s", ""],
    ["10g cable", "", "USB-C cable, 10 Gb/s", ""],
    [
      "10g nvme box, 10 Gbps, 1000 MB/s",
      "",
      "SSD enclosure, USB 10 Gb/s, NVMe",
      "10 Gbps, 1000 MB/s",
    ],
    ["serac 10g nvme box 1000 mb/s", "serac", "SSD enclosure, USB 10 Gb/s, NVMe", "1000 mb/s"],
    ["usb-c cable 480 mb/s", "", "USB-C cable, 480 Mb/s", ""],
    ["hdd 3.5 inch, 260 MB/s", "", "Hard disk, 3.5 inch, SATA 6 Gb/s", "260 MB/s"],
    ["Blue: cable 480 Mb/s", "Blue", "USB-C cable, 480 Mb/s", ""],
  ])("%s", (line, name, kind, claims) => {
    const entry = readEntry(line, GEAR_KINDS);
    expect([entry.name, entry.kinds[0]!.id, entry.claims]).toEqual([name, kind, claims]);
  });

  it("keeps to the sort of part that is asked for", () => {
    const { kinds } = readEntry("10g", GEAR_KINDS, ["cable"]);
    expect(new Set(kinds.map(({ kind }) => kind))).toEqual(new Set(["cable"]));
    expect(readEntry("", GEAR_KINDS, ["hub"]).kinds.every(({ kind }) => kind === "hub")).toBe(true);
  });

  it("is another one of the tester's own", () => {
    const own = {
      ...part("USB-C cable, 10 Gb/s"),
      id: "k5",
      name: "K5",
      maker: "Tarn",
      serial: "7",
    };
    const kind = likePart(own);
    expect(readEntry("another tarn cable", [...GEAR_KINDS, kind]).kinds[0]).toBe(kind);
    expect(enteredPart(kind, "", "").draft).toMatchObject({
      name: "K5",
      maker: "Tarn",
      serial: "",
    });
    expect(partOfKind(kind)).not.toHaveProperty("id");
    expect(gearName(kind)).toBe("Another K5, Tarn");
  });
});
