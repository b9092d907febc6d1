import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { account } from "../ledger/account";
import { modeOf } from "../ledger/catalogue";
import { bottleneckOf, nextBottleneck } from "./bottleneck";
import { cable, drive, enclosure, hub, part, port, rig, USB_10G, USB_20G } from "../testing/rigs";
import { differences } from "./difference";
import { linksOf } from "./link";
import { PartDraft, type Part } from "./part";
import { rigProblems, Layout, type Rig } from "./rig";
import { together } from "./several";
import { stagesOf } from "./stages";

const ceiling = (id: string) => account(modeOf(id), "read").hardCeiling;
const SATA = ["sata-3g", "sata-6g"];
const bay = (name: string, rate: number, modes = SATA) =>
  part("drive", name, { up: modes }, { limits: { read: rate, write: rate } });
const box = (name = "box") => part("enclosure", name, { up: USB_10G, down: SATA });

describe("a mode that is known better than from the connectors", () => {
  const parts = [port(), cable(), enclosure(), drive()];
  const slow = rig(parts, "r", { settled: [{ partId: "box", mode: "usb-480m", by: "system" }] });

  it("replaces the negotiated one, which stays to be seen", () => {
    const [link] = linksOf(slow);
    expect(link).toMatchObject({ mode: { id: "usb-480m" }, negotiated: { id: "usb-10g" } });
    expect(bottleneckOf(slow, "read")!.ceiling).toBe(ceiling("usb-480m"));
  });

  it("blames every part of the link, since any could have caused it", () => {
    expect(bottleneckOf(slow, "read")!.culprits.map(({ name }) => name)).toEqual([
      "port",
      "cable",
      "box",
    ]);
  });

  it("lets a link come up that the connectors would not", () => {
    const odd = rig([port(["usb-5g"]), drive()], "r", {
      settled: [{ partId: "drive", mode: "pcie-3.0-x1", by: "tester" }],
    });
    expect(linksOf(odd)[0]).toMatchObject({ problem: null, mode: { id: "pcie-3.0-x1" } });
  });
});

describe("what others hold of a link", () => {
  it("narrows that link, in the direction it goes", () => {
    const held = [{ partId: "box", what: "display", read: 0, write: 700 }];
    const dock = rig([port(), cable(), enclosure(), drive()], "r", { held });
    expect(bottleneckOf(dock, "write")!.ceiling).toBeCloseTo(ceiling("usb-10g") - 700, 6);
    expect(bottleneckOf(dock, "read")!.ceiling).toBe(ceiling("usb-10g"));
    const bridge = stagesOf(dock, "write").find(({ role }) => role === "bridge")!;
    expect(bridge.held).toBeCloseTo(700, 6);
  });

  it("counts both ways on a link that serves one direction at a time", () => {
    const held = [{ partId: "stick", what: "neighbour", read: 10, write: 20 }];
    const stick = part("drive", "stick", { up: ["usb-480m"] });
    const shared = rig([port(["usb-480m"]), stick], "r", { held });
    expect(bottleneckOf(shared, "read")!.ceiling).toBeCloseTo(ceiling("usb-480m") - 30, 6);
  });
});

describe("several drives in a box", () => {
  const four = (layout: Layout, rates = [500, 500, 500, 200]): Rig => {
    const [first, ...others] = rates.map((rate, i) => bay(`d${i}`, rate));
    return rig([port(), cable(), box(), first!], "r", { beside: others, layout });
  };
  const driveStage = (r: Rig, direction: "read" | "write" = "read") =>
    stagesOf(r, direction).find(({ role }) => role === "drive")!;

  it.each([
    ["apart", "read", 1700],
    ["raid-0", "read", 800],
    ["raid-1", "read", 1700],
    ["raid-1", "write", 200],
    ["raid-5", "read", 800],
    ["raid-5", "write", 600],
    ["raid-6", "read", 800],
    ["raid-6", "write", 400],
    ["raid-10", "read", 800],
    ["raid-10", "write", 400],
  ] as const)("%s gives them together, %s, %d MB/s", (layout, direction, rate) => {
    expect(driveStage(four(layout), direction).ceiling).toBe(rate);
  });

  it.each([
    ["raid-0", 1],
    ["raid-5", 3 / 4],
    ["raid-6", 2 / 4],
    ["raid-10", 2 / 4],
  ] as const)("%s surely reads without what it keeps beside: %d of the most", (layout, share) => {
    const striped = driveStage(four("raid-0")).attainable.low;
    expect(driveStage(four(layout)).attainable.low).toBeCloseTo(share * striped, 6);
  });

  it.each([
    ["raid-5", 2, /at least 3 drives/],
    ["raid-6", 3, /at least 4 drives/],
  ] as const)("%s is none with %d drives", (layout, drives, why) => {
    expect(rigProblems(four(layout, Array(drives).fill(500))).join()).toMatch(why);
    expect(rigProblems(four(layout, Array(drives + 1).fill(500)))).toEqual([]);
  });

  it("share their uplink", () => {
    expect(bottleneckOf(four("apart"), "read")!.ceiling).toBe(ceiling("usb-10g"));
  });

  it.each([
    ["raid-1", 1 / 4],
    ["raid-5", 3 / 4],
    ["raid-6", 2 / 4],
    ["raid-10", 2 / 4],
  ] as const)("%s by the host writes %d of what the uplink carries as payload", (layout, share) => {
    const natives = [5000, 5000, 5000, 5000];
    const byBox = four(layout, natives);
    const byHost: Rig = { ...byBox, layoutBy: "host" };
    const uplink = (r: Rig, direction: "read" | "write") =>
      stagesOf(r, direction).find(({ role }) => role === "bridge")!.ceiling;
    expect(uplink(byHost, "write")).toBeCloseTo(share * uplink(byBox, "write"), 6);
    expect(uplink(byHost, "read")).toBe(uplink(byBox, "read"));
    expect(bottleneckOf(byHost, "write")!.ceiling).toBeLessThanOrEqual(uplink(byHost, "write"));
  });

  it("wait for a slow bay as for a slow drive", () => {
    const beside = [bay("old", 500, ["sata-3g"])];
    const striped = rig([port(), cable(), box(), bay("d", 500)], "r", { beside, layout: "raid-0" });
    expect(bottleneckOf(striped, "read")!.ceiling).toBeCloseTo(2 * ceiling("sata-3g"), 6);
  });

  it("are held by a slow bay and a slow drive that are not the same one", () => {
    const beside = [bay("old", 900, ["sata-3g"])];
    const both = rig([port(), cable(), box(), bay("d", 100)], "r", { beside, layout: "apart" });
    expect(driveStage(both).ceiling).toBeCloseTo(100 + ceiling("sata-3g"), 6);
  });

  it("hang on the ports of one controller without a box", () => {
    const controller = part("host-port", "controller", { down: SATA });
    const pair = rig([controller, bay("a", 900)], "r", { beside: [bay("b", 900)] });
    expect(rigProblems(pair)).toEqual([]);
    expect(bottleneckOf(pair, "read")!.ceiling).toBeCloseTo(2 * ceiling("sata-6g"), 6);
  });

  it("never carry more than all their bays or their uplink", () => {
    const rates = fc.array(fc.integer({ min: 20, max: 3000 }), { minLength: 2, maxLength: 6 });
    fc.assert(
      fc.property(rates, fc.constantFrom(...Layout.options), (natives, layout) => {
        const most = bottleneckOf(four(layout, natives), "read")!.ceiling;
        expect(most).toBeLessThanOrEqual(ceiling("usb-10g") + 1e-9);
        const each = natives.map((rate) => Math.min(rate, ceiling("sata-6g")));
        expect(most).toBeLessThanOrEqual(together(layout, "read", each) + 1e-9);
      }),
    );
  });

  it.each([
    ["a part that is no drive", { beside: [cable()] }],
    ["the same drive twice", { beside: [bay("d", 1), bay("d", 1)] }],
  ])("cannot be %s", (_, more) => {
    expect(rigProblems(rig([port(), box(), bay("d", 1)], "r", more)).length).toBeGreaterThan(0);
  });
});

describe("a copy", () => {
  const source = [part("host-port", "sata", { down: SATA }), bay("old", 150)];
  const copy = rig([port(), cable(), box(), bay("new", 500)], "r", { other: source });

  it("is no faster than its slow end, in either direction", () => {
    for (const direction of ["read", "write"] as const) {
      expect(bottleneckOf(copy, direction)).toMatchObject({
        ceiling: 150,
        culprits: [{ name: "old" }],
      });
    }
  });

  it("passes the other end first, from its drive up to the host, the other way round", () => {
    const stages = stagesOf(copy, "write");
    expect(stages.slice(0, 2).map(({ label, direction }) => [label, direction])).toEqual([
      ["old", "read"],
      ["sata", "read"],
    ]);
    expect(stages.map(({ place }) => place)).toEqual([0, 1, 2, 3, 4, 4, 5]);
  });

  it("asks a drive at both ends to read and write in turn", () => {
    const parts = [port(), box(), bay("same", 400)];
    const within = rig(parts, "r", { other: parts });
    expect(bottleneckOf(within, "read")!.ceiling).toBe(200);
  });

  it("names what is wrong at its other end", () => {
    expect(rigProblems({ ...copy, other: [bay("old", 1)] })[0]).toMatch(/^At the other end/);
  });
});

describe("a network path", () => {
  const nas = part("network-box", "NAS", { up: ["ethernet-100m", "ethernet-1g"], down: SATA });
  const lan = part("host-port", "LAN", { down: ["ethernet-1g", "ethernet-2.5g"] });
  const path = rig([lan, cable(["ethernet-1g", "ethernet-2.5g"], "patch"), nas, bay("d", 200)]);

  it("has the network side and the disk side in the chain", () => {
    expect(stagesOf(path, "read").map(({ role }) => role)).toEqual([
      "host port",
      "cable",
      "network side",
      "disk side",
      "drive",
    ]);
    expect(bottleneckOf(path, "read")!.ceiling).toBe(ceiling("ethernet-1g"));
  });

  it("follows the frame size that is assumed of it", () => {
    const jumbo = { ...path, assumptions: { mtu: 9000 } };
    expect(bottleneckOf(jumbo, "read")!.ceiling).toBeGreaterThan(ceiling("ethernet-1g"));
  });
});

describe("the next bottleneck", () => {
  it("is not the other side of the same hub", () => {
    const chain = [port(), cable(), hub(["usb-5g"]), cable(USB_20G, "K2"), enclosure(), drive()];
    expect(nextBottleneck(rig(chain), "read")!.ceiling).toBe(ceiling("usb-10g"));
  });
});

describe("connectors", () => {
  const socket = (shape: "usb-a" | "usb-c"): Part => ({
    ...port(),
    connectors: [{ side: "down", modes: USB_20G, shape }],
  });
  const lead = (shape?: "usb-a" | "usb-c", farShape?: "usb-c"): Part => ({
    ...cable(),
    connectors: [{ side: "through", modes: USB_20G, shape, farShape }],
  });
  const link = (parts: Part[]) => linksOf(rig(parts))[0]!;

  it("link where the shapes fit, or are not said", () => {
    expect(link([socket("usb-c"), lead("usb-c", "usb-c"), enclosure()]).problem).toBeNull();
    expect(link([socket("usb-a"), lead(), enclosure()]).problem).toBeNull();
  });

  it("say what does not plug together", () => {
    const { problem } = link([socket("usb-a"), lead("usb-c", "usb-c"), enclosure()]);
    expect(problem).toMatch(/will not plug together: port has USB-A, cable has USB-C and USB-C/);
  });

  it("offer their own modes only: the socket that fits decides", () => {
    const two: Part = {
      ...port(),
      connectors: [
        { side: "down", modes: ["usb-480m"], shape: "usb-c" },
        { side: "down", modes: USB_20G, shape: "usb-a" },
      ],
    };
    expect(link([two, lead("usb-c", "usb-c"), enclosure()]).mode?.id).toBe("usb-480m");
    expect(link([two, lead("usb-a", "usb-c"), enclosure()]).mode?.id).toBe("usb-10g");
  });

  it("are refused where they contradict themselves", () => {
    const sata = [{ side: "up", modes: ["usb-10g"], shape: "sata" }];
    const { error } = PartDraft.safeParse({ kind: "drive", name: "d", connectors: sata });
    expect(error!.issues[0]!.message).toMatch(/cannot be SATA and run USB 10 Gb\/s/);
  });
});

describe("what differs round the chain", () => {
  const base = rig([port(), cable(), box(), bay("d", 500)], "a");
  it.each([
    ["host", { host: "tower" }],
    ["layout", { beside: [bay("e", 500)] }],
    ["link mode", { settled: [{ partId: "box", mode: "usb-5g", by: "tester" as const }] }],
    ["bandwidth held", { held: [{ partId: "box", what: "display", read: 0, write: 9 }] }],
    ["assumption", { assumptions: { mtu: 9000 } }],
    ["part", { other: [port(USB_20G, "p2")] }],
  ])("counts %s", (kind, more) => {
    const found = differences(base, { ...base, ...more });
    expect(found.map((difference) => difference.kind)).toContain(kind);
    expect(differences({ ...base, ...more }, { ...base, ...more })).toEqual([]);
  });
});
