import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { account } from "../ledger/account";
import { modeOf } from "../ledger/catalogue";
import {
  cable,
  drive,
  enclosure,
  hub,
  part,
  PCIE,
  port,
  rig,
  USB_10G,
  USB_20G,
  USB_5G,
} from "../testing/rigs";
import { alignParts, differences } from "./difference";
import { linksOf } from "./link";
import { PartDraft } from "./part";
import { predictedRate } from "./predict";
import { rigProblems } from "./rig";
import { stagesOf } from "./stages";

const ceiling = (id: string) => account(modeOf(id), "read").hardCeiling;

describe("negotiation", () => {
  it("settles on the best mode that both ends and the cable share", () => {
    const [usb, slot] = linksOf(rig([port(), cable(), enclosure(), drive()]));
    expect(usb!.mode?.id).toBe("usb-10g");
    expect(usb!.heldBy.map(({ name }) => name)).toEqual(["box"]);
    expect(slot!.mode?.id).toBe("pcie-3.0-x2");
  });

  it("lets a cable drop the link", () => {
    const [usb] = linksOf(rig([port(), cable(USB_5G), enclosure(), drive()]));
    expect(usb!.mode?.id).toBe("usb-5g");
    expect(usb!.heldBy.map(({ name }) => name)).toEqual(["cable"]);
  });

  it("does not depend on the order in which modes were ticked", () => {
    fc.assert(
      fc.property(
        fc.shuffledSubarray(USB_20G, { minLength: 1 }),
        fc.shuffledSubarray(USB_20G, { minLength: 1 }),
        (up, down) => {
          const link = (a: string[], b: string[]) =>
            linksOf(rig([port(a), part("drive", "d", { up: b })]))[0]!;
          const mode = link(up, down).mode?.id;
          expect(link([...up].reverse(), [...down].reverse()).mode?.id).toBe(mode);
          const shared = USB_20G.filter((id) => up.includes(id) && down.includes(id));
          expect(mode).toBe(shared.at(-1));
        },
      ),
    );
  });

  it("names the odd one out where nothing is shared", () => {
    const [link] = linksOf(
      rig([port(["usb-5g"]), cable(["sata-6g"]), part("drive", "stick", { up: ["usb-5g"] })]),
    );
    expect(link!.mode).toBeNull();
    expect(link!.problem).toMatch(/cable shares no mode/);
  });
});

describe("stages", () => {
  it("run from host to drive, with the lost width of parts that could carry more", () => {
    const stages = stagesOf(rig([port(), cable(USB_5G), enclosure(), drive()]), "read");
    expect(stages.map(({ role }) => role)).toEqual([
      "host port",
      "cable",
      "bridge",
      "slot",
      "drive",
    ]);
    expect(stages.slice(0, 3).map((s) => s.ceiling)).toEqual(Array(3).fill(ceiling("usb-5g")));
    expect(stages.map(({ own }) => own)).toEqual([
      ceiling("usb-20g"),
      ceiling("usb-5g"),
      ceiling("usb-10g"),
      ceiling("pcie-3.0-x2"),
      3400,
    ]);
    expect(stages.filter(({ holds }) => holds).map(({ label }) => label)).toEqual([
      "cable",
      "PCIe 3.0 ×2",
      "drive",
    ]);
  });

  it("give a hub the ceiling of its slower side", () => {
    const stages = stagesOf(
      rig([port(), cable(), hub(["usb-480m"]), cable(USB_20G, "second"), enclosure(), drive()]),
      "read",
    );
    expect(stages.find(({ role }) => role === "hub")!.ceiling).toBe(ceiling("usb-480m"));
  });

  it("let a part's own limit stand below its link, per direction", () => {
    const limited = { ...enclosure(), limits: { write: 400 } };
    const bridge = (direction: "read" | "write") =>
      stagesOf(rig([port(), cable(), limited, drive()]), direction).find(
        (s) => s.role === "bridge",
      )!;
    expect(bridge("write")).toMatchObject({ ceiling: 400, cause: { kind: "limit" }, holds: true });
    expect(bridge("read").ceiling).toBe(ceiling("usb-10g"));
  });

  it("use the rig's driver mode where the link offers it", () => {
    const attains = (transport: "usb-queued" | "usb-unqueued") =>
      stagesOf(rig([port(), enclosure(), drive()], "r", { transport }), "read")[0]!.attainable.high;
    expect(attains("usb-unqueued")).toBeLessThan(attains("usb-queued"));
  });
});

describe("what differs", () => {
  const base = [port(), cable(), enclosure(), drive()];
  it("counts a swapped part once", () => {
    const other = [port(), cable(USB_5G, "K2"), enclosure(), drive()];
    expect(differences(rig(base), rig(other))).toMatchObject([
      { kind: "part", a: { name: "cable" }, b: { name: "K2" } },
    ]);
  });
  it("counts a hub and the cable it needs as two", () => {
    const other = [port(), cable(), hub(USB_10G), cable(USB_10G, "K7"), enclosure(), drive()];
    expect(differences(rig(base), rig(other)).map(({ what }) => what)).toEqual([
      "hub hub in one only",
      "cable K7 in one only",
    ]);
  });
  it("counts driver mode and file system", () => {
    const a = rig(base, "a", { fileSystem: "ext4" });
    const b = rig(base, "b", { fileSystem: "exFAT", transport: "usb-unqueued" });
    expect(differences(a, b).map(({ kind }) => kind)).toEqual(["driver mode", "file system"]);
  });
  it("lines up every part of every chain once, in order", () => {
    const pool = [port(), cable(), cable(USB_5G, "K2"), hub(USB_10G), enclosure(), drive()];
    fc.assert(
      fc.property(fc.array(fc.subarray(pool), { minLength: 1, maxLength: 4 }), (chains) => {
        const columns = alignParts(chains);
        chains.forEach((chain, row) => {
          const names = columns.flatMap((column) => column[row]?.name ?? []);
          expect(names).toEqual(chain.map(({ name }) => name));
        });
        expect(columns.every((column) => column.some((p) => p !== null))).toBe(true);
      }),
    );
  });
});

describe("rigs and parts that make no sense", () => {
  it.each([
    ["no drive", [port(), cable()]],
    ["no host port", [cable(), drive()]],
    ["two cables in a row", [port(), cable(), cable(USB_5G, "K2"), enclosure(), drive()]],
    ["a part twice", [port(), hub(USB_10G), hub(USB_10G), drive()]],
    ["a drive in the middle", [port(), drive({}, "d1"), drive({}, "d2")]],
    ["nothing", []],
  ])("%s", (_, parts) => expect(rigProblems({ parts }).length).toBeGreaterThan(0));

  it("accepts a sound rig", () => {
    expect(rigProblems({ parts: [port(), cable(), enclosure(), drive()] })).toEqual([]);
  });

  const draft = { kind: "drive", name: "d", connectors: [{ side: "up", modes: PCIE }] };
  it.each([
    [{ ...draft, name: " " }, "name"],
    [{ ...draft, connectors: [] }, "connectors"],
    [{ ...draft, connectors: [{ side: "up", modes: ["warp-9"] }] }, "connectors.0.modes.0"],
    [{ ...draft, connectors: [...draft.connectors, { side: "down", modes: PCIE }] }, "connectors"],
    [{ ...draft, limits: { read: 0 } }, "limits.read"],
    [{ ...draft, limits: { read: -3 } }, "limits.read"],
    [{ ...draft, limits: { read: 1e12 } }, "limits.read"],
    [{ ...draft, claims: [{ direction: "read", kind: "peak", mbps: NaN }] }, "claims.0.mbps"],
    [{ ...draft, price: { amount: 1, currency: "€" } }, "price.currency"],
  ])("refuses a part for its %#th nonsense at %s", (input, path) => {
    const { error } = PartDraft.safeParse(input);
    expect(error!.issues.map((issue) => issue.path.join("."))).toContain(path);
  });
});

describe("predicted rate", () => {
  const rate = fc.double({ min: 1, max: 10000, noNaN: true });
  const overhead = fc.double({ min: 1, max: 5000, noNaN: true });
  it("rises with block and depth, and never exceeds the narrowest stage", () => {
    fc.assert(
      fc.property(rate, overhead, fc.integer({ min: 1, max: 64 }), (r, t0, q) => {
        const x = predictedRate(r, t0, 4096, q, true);
        expect(x).toBeLessThanOrEqual(r);
        expect(predictedRate(r, t0, 8192, q, true)).toBeGreaterThanOrEqual(x);
        expect(predictedRate(r, t0, 4096, q + 1, true)).toBeGreaterThanOrEqual(x);
      }),
    );
  });
  it("gains nothing from depth where the driver cannot queue", () => {
    expect(predictedRate(500, 100, 4096, 32, false)).toBe(predictedRate(500, 100, 4096, 1, true));
  });
});
