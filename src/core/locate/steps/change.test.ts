import { describe, expect, it } from "vitest";
import { cable, drive, enclosure, hub, part, port, rig, USB_10G } from "../../testing/rigs";
import type { Part } from "../../chain/part";
import type { Opinion } from "../hypotheses/opinion";
import { changesOf } from "./change";
import { setUpKey } from "../../chain/set-up";
import { sitesOf } from "../hypotheses/site";

const P = port(USB_10G, "port");
const [K1, K2, K3] = [cable(USB_10G, "K1"), cable(USB_10G, "K2"), cable(USB_10G, "K3")];
const H = hub(USB_10G, "hub");
const B = enclosure();
const D = drive({});
const slow = {
  ...rig([P, K1, H, K2, B, D]),
  id: "slow",
  fileSystem: "ext4",
  host: "desk",
  settled: [{ partId: "box", mode: "usb-5g", by: "system" as const }],
};
const NONE = { fileSystems: [], hosts: [] };
const chains = (changes: ReturnType<typeof changesOf>) =>
  changes.map(({ rig: { parts } }) => parts.map(({ name }) => name).join(" "));

describe("single changes of a rig", () => {
  it("exchange each part for each other of its kind that is free and links", () => {
    const sata = drive({ read: 500 });
    const slower = { ...port(["sata-6g"], "sata port") };
    const made = chains(changesOf(slow, [P, K1, K2, K3, H, B, D, sata, slower], NONE));
    expect(made).toContain("port K3 hub K2 box drive");
    expect(made).toContain("port K1 hub K3 box drive");
    // A port that the cable does not fit makes no rig; what stands in the rig is not free.
    expect(made.join()).not.toMatch(/sata port|K2 hub K2/);
  });

  it("connect it to another computer at a port of that one, since a port stays with its own", () => {
    const [there, free, misfit] = [
      port(USB_10G, "there"),
      port(USB_10G, "free"),
      port(["sata-6g"], "misfit"),
    ];
    const shelf = [P, misfit, free, there, K1, H, K2, B, D];
    const connected = (host: string, ports: Record<string, Part[]>) => {
      const seen = new Map(
        Object.entries(ports).map(([name, list]) => [name, new Set(list.map(({ id }) => id))]),
      );
      const made = changesOf(slow, shelf, { fileSystems: [], hosts: [host], ports: seen });
      return made.flatMap(({ kind, rig: one }) =>
        kind === "host" ? [`${one.host} ${one.parts[0]!.name}`] : [],
      );
    };
    expect(connected("laptop", { desk: [P], laptop: [there] })).toEqual(["laptop there"]);
    // Of a computer of which no port is known: one that stands at none; one that does not fit is passed over.
    expect(connected("laptop", { desk: [P, there] })).toEqual(["laptop free"]);
    // A card can be moved; where no other port is on the shelf the step is named all the same.
    expect(connected("laptop", { desk: [P], laptop: [P] })).toEqual(["laptop port"]);
    expect(connected("laptop", { desk: [P, free, there] })).toEqual(["laptop port"]);
  });

  it("tell apart parts of one name", () => {
    const [twin, tagged] = [cable(USB_10G, "K1"), cable(USB_10G, "K1")];
    const shelf = [
      { ...twin, id: "twin" },
      { ...tagged, id: "tagged", tag: "red" },
    ];
    const texts = changesOf(slow, shelf, NONE).map(({ text }) => text);
    expect(texts).toContain("put another K1 in place of K1");
    expect(texts).toContain("put another K1 (red) in place of K1");
    expect(texts).toContain("put K1 in place of K2");
  });

  it("take a hub out with one of its cables, and never a cable by itself", () => {
    const made = changesOf(slow, [], NONE).filter(({ kind }) => kind === "without");
    expect(chains(made).toSorted()).toEqual(["port K1 box drive", "port K2 box drive"]);
    expect(made[0]!.text).toMatch(/take out .* and /);
  });

  it("are of conditions too, where others are known and one is stated", () => {
    const choices = { fileSystems: ["EXT4", "exFAT"], hosts: ["desk", "laptop"] };
    const made = changesOf(slow, [], choices);
    expect(
      made.filter(({ kind }) => kind === "fileSystem").map((one) => one.rig.fileSystem),
    ).toEqual(["exFAT"]);
    expect(made.find(({ kind }) => kind === "host")!.rig.host).toBe("laptop");
    expect(made.find(({ kind }) => kind === "transport")!.rig.transport).toBe("usb-unqueued");
    const unsaid = changesOf({ ...slow, fileSystem: "", host: "" }, [], choices);
    expect(unsaid.map(({ kind }) => kind)).not.toContain("fileSystem");
  });

  it("leave alone the driver that a network box runs behind its own plug", () => {
    const lan = ["ethernet-1g"];
    const nas = part("network-box", "NAS", { up: lan, down: ["sata-6g"] });
    const disk = part("drive", "disk", { up: ["sata-6g"] });
    const over = rig([port(lan, "lan port"), cable(lan, "lead"), nas, disk]);
    const kinds = (one: typeof over) => changesOf(one, [], NONE).map(({ kind }) => kind);
    expect(kinds(over)).not.toContain("transport");
    expect(sitesOf(over).some(({ kind }) => kind === "transport")).toBe(false);
    // Nor is its disk formatted from here.
    const formats = changesOf({ ...over, fileSystem: "share" }, [], {
      fileSystems: ["ext4"],
      hosts: [],
    });
    expect(formats.map(({ kind }) => kind)).not.toContain("fileSystem");
    expect(kinds(rig([port(["sata-6g"]), disk]))).toContain("transport");
  });

  it("never choose the driver mode that comes about by itself once more", () => {
    const plain = rig([P, K1, B, D]);
    const said = { ...plain, transport: "usb-queued" as const };
    expect(setUpKey(said)).toBe(setUpKey(plain));
    const modes = (one: typeof plain) =>
      changesOf({ ...one }, [], NONE).flatMap(({ kind, rig: { transport } }) =>
        kind === "transport" ? [transport] : [],
      );
    expect(modes(plain)).toEqual(["usb-unqueued"]);
    expect(modes(said)).toEqual(["usb-unqueued"]);
    const unqueued = { ...plain, transport: "usb-unqueued" as const };
    expect(setUpKey(unqueued)).not.toBe(setUpKey(plain));
  });

  it("keep what was said of a link only while its part stays", () => {
    const other = { ...enclosure(), id: "box2", name: "box2" };
    const [kept] = changesOf(slow, [K3], NONE);
    expect(kept!.rig.settled).toHaveLength(1);
    const exchanged = changesOf(slow, [other], NONE).find(({ kind }) => kind === "exchange");
    expect(exchanged!.rig.settled).toHaveLength(0);
  });

  it("take the tester's own minutes", () => {
    const own: Opinion = { priors: {}, minutes: { cable: 7 }, fewest: "steps" };
    expect(changesOf(slow, [K3], NONE, own)[0]!.minutes).toBe(7);
  });

  it("tell set-ups apart by items and conditions, not by names", () => {
    expect(setUpKey({ ...slow, name: "another", id: "x" })).toBe(setUpKey(slow));
    expect(setUpKey({ ...slow, host: "laptop" })).not.toBe(setUpKey(slow));
  });
});
