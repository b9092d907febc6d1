import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { usualDrill } from "../drills/shape";
import { cable, drive, enclosure, hub, part, port, rig, USB_10G } from "../testing/rigs";
import { secondsLeft, usualSeconds } from "./estimate";
import { handsWords } from "./hands";
import { countSwaps, orderSteps, together } from "./order";
import { isExchanged, placeOf } from "./place";
import { moveStep, PlanRequest, type Plan, type PlanStep } from "./plan";

const socket = port();
const [box, disk] = [enclosure(), drive()];
const K2 = cable(["usb-480m", "usb-5g"], "K2");
const K5 = cable(USB_10G, "K5");
const slow = rig([socket, K2, box, disk], "slow");
const fast = rig([socket, K5, box, disk], "fast");
const elsewhere = rig([port(USB_10G, "front port"), drive({}, "another disk")], "elsewhere");
const all = [slow, fast, elsewhere];

const plan = (more: Partial<Plan> = {}): Plan => ({
  ...PlanRequest.parse({
    rigs: all.map(({ id }) => ({ rigId: id, target: `/mnt/${id}` })),
    drills: [{ name: "haul", direction: "read" }],
  }),
  drills: [usualDrill("haul", "read"), usualDrill("scatter", "read")],
  ...more,
});
const turns = (steps: readonly PlanStep[]) =>
  steps.map(
    ({ rigId, drill, repeat, warmUp }) => `${rigId} ${drill}.${repeat}${warmUp ? "w" : ""}`,
  );

describe("what is asked for", () => {
  it("is no more than a plan can hold, and no rig twice", () => {
    const asked = (rigs: string[], drills: number, repeats: number) =>
      PlanRequest.safeParse({
        rigs: rigs.map((rigId) => ({ rigId, target: "/x" })),
        drills: Array(drills).fill({ name: "haul", direction: "read" }),
        repeats,
      }).error?.issues.map(({ message }) => message);
    expect(asked(["a", "b"], 20, 50)).toBeUndefined();
    expect(asked(["a", "b", "c"], 20, 50)).toEqual([
      "comes to 3000 runs; at most 2000 in one plan",
    ]);
    expect(asked(["a", "a"], 1, 1)).toEqual(["names the same rig twice"]);
  });
});

describe("what can be plugged in together", () => {
  it("is what shares no item, but for what is above a hub", () => {
    expect(together(slow, fast)).toBe(false);
    expect(together(slow, elsewhere)).toBe(true);
    const shared = hub(USB_10G, "dock");
    const behind = (name: string) =>
      rig([socket, K5, shared, drive({}, `disk ${name}`)], `behind ${name}`);
    expect(together(behind("a"), behind("b"))).toBe(true);
    expect(together(behind("a"), fast)).toBe(false);
  });
});

describe("the order of a plan", () => {
  it("lets rigs take turns where that needs no hands, and swaps seldom where it does", () => {
    const { steps, swaps, words } = orderSteps(plan({ repeats: 2 }), all);
    expect(turns(steps).slice(0, 4)).toEqual([
      "slow 0.0",
      "elsewhere 0.0",
      "slow 0.1",
      "elsewhere 0.1",
    ]);
    expect(turns(steps).slice(-4)).toEqual(["fast 0.0", "fast 0.1", "fast 1.0", "fast 1.1"]);
    expect(swaps).toBe(1);
    expect(words).toBe("Rigs take turns (slow and elsewhere); parts are swapped once.");
  });

  it("alternates all of them, or swaps as seldom as can be, where the tester says so", () => {
    const often = orderSteps(plan({ repeats: 2, order: "alternate" }), all);
    expect(turns(often.steps).slice(0, 3)).toEqual(["slow 0.0", "fast 0.0", "elsewhere 0.0"]);
    expect(often.swaps).toBeGreaterThan(3);
    const seldom = orderSteps(plan({ repeats: 2, order: "few swaps" }), all);
    expect(seldom.swaps).toBe(1);
    expect(seldom.words).toMatch(/^One rig after another/);
  });

  it("warms each drill up before its first run, after each change of rig", () => {
    const { steps } = orderSteps(plan({ repeats: 2, warmUps: 1, order: "few swaps" }), all);
    expect(turns(steps).slice(0, 4)).toEqual(["slow 0.0w", "slow 0.0", "slow 0.1", "slow 1.0w"]);
  });

  it("does every run once, whatever is asked for", () => {
    fc.assert(
      fc.property(
        fc.constantFrom("usual" as const, "alternate" as const, "few swaps" as const),
        fc.integer({ min: 1, max: 4 }),
        fc.subarray(all, { minLength: 1 }),
        fc.integer({ min: 0, max: 2 }),
        (order, repeats, rigs, warmUps) => {
          const chosen = rigs.map(({ id }) => ({ rigId: id, target: "/x" }));
          const { steps, swaps } = orderSteps(plan({ order, repeats, rigs: chosen, warmUps }), all);
          const counted = turns(steps.filter(({ warmUp }) => !warmUp));
          expect(new Set(counted).size).toBe(rigs.length * 2 * repeats);
          expect(counted).toHaveLength(rigs.length * 2 * repeats);
          expect(steps).toHaveLength(rigs.length * 2 * (repeats + warmUps));
          expect(new Set(steps.map(({ id }) => id)).size).toBe(steps.length);
          expect(swaps).toBe(countSwaps(steps.map((s) => all.find(({ id }) => id === s.rigId)!)));
        },
      ),
    );
  });
});

describe("hands", () => {
  it("are told what to take out and what to put in", () => {
    expect(handsWords([slow], fast)).toBe("unplug cable K2\nplug in cable K5, same port");
    const marked = { ...fast.parts[1]!, tag: "red tape", lengthM: 0.8 };
    expect(handsWords([slow], { ...fast, parts: fast.parts.with(1, marked) })).toMatch(
      /plug in cable K5 \(red tape, 0\.8 m\)/,
    );
    expect(handsWords([], slow)).toBe("plug in port, cable K2, enclosure box, drive drive");
    expect(handsWords([slow], { ...slow, id: "x", fileSystem: "exFAT" })).toBe(
      "with the file system exFAT",
    );
    expect(handsWords([slow], { ...slow })).toBe("plug in slow again");
    // A port is not taken out, and of several rigs the nearest one is changed.
    const P2 = part("host-port", "P2", { down: USB_10G });
    const onOther = { ...rig([P2, ...fast.parts.slice(1)], "other"), host: "" };
    expect(handsWords([slow], onOther)).toBe(
      "unplug cable K2\nplug in cable K5, use port P2 instead of port",
    );
    expect(handsWords([slow, fast], onOther)).toBe("use port P2 instead of port");
    expect(handsWords([fast, slow], onOther)).toBe("use port P2 instead of port");
    const straight = rig([socket, K2, part("drive", "stick", { up: USB_10G })], "straight");
    expect(handsWords([slow], straight)).toMatch(
      /^unplug enclosure box, drive drive\nplug in drive stick, same port$/,
    );
  });
});

describe("what a plan takes", () => {
  const { steps } = orderSteps(plan({ repeats: 2 }), [slow, elsewhere, fast]);
  it("follows from its drills, and then from what runs really took", () => {
    const usual = secondsLeft(plan(), steps, new Map());
    const each = [0, 1].map((drill) => usualSeconds(plan().drills[drill]!));
    expect(usual).toBeCloseTo(6 * each[0]! + 6 * each[1]!, 6);
    const done = steps.map((step, i) => (i === 0 ? { ...step, state: "done" as const } : step));
    const left = secondsLeft(plan(), done, new Map([["1", 2]]));
    // Five more runs of that drill take as long as the one that was made, and the look before each.
    expect(left).toBeCloseTo(5 * (2 + 2) + 6 * each[1]!, 6);
    expect(secondsLeft(plan({ coolSeconds: 10 }), steps, new Map())).toBeCloseTo(usual + 120, 6);
  });
});

describe("moving a run", () => {
  const { steps } = orderSteps(plan({ repeats: 2 }), all);
  const begun = steps.map((step, i) => (i < 2 ? { ...step, state: "done" as const } : step));
  const ids = (list: readonly PlanStep[]) => list.map(({ id }) => id);
  it("goes before any that has not begun, and never before one that has", () => {
    expect(ids(moveStep(begun, "12", "4")).slice(0, 5)).toEqual(["1", "2", "3", "12", "4"]);
    expect(ids(moveStep(begun, "5", "1")).slice(0, 4)).toEqual(["1", "2", "5", "3"]);
    expect(ids(moveStep(begun, "3", null)).at(-1)).toBe("3");
    expect(ids(moveStep(begun, "1", "5"))).toEqual(ids(begun));
    expect(ids(moveStep(begun, "99", "5"))).toEqual(ids(begun));
  });
});

describe("where a rig is plugged in", () => {
  const seen = (id: string, point: string | null, serials: string[] = []) => ({
    id,
    kind: "disk" as const,
    name: id,
    maker: null,
    model: null,
    bytes: 1e9,
    hangsOn: "",
    serial: serials[0] ?? null,
    serials,
    link: null,
    rotational: null,
    removable: true,
    readOnly: false,
    system: false,
    heldBy: [],
    places: [{ device: `/dev/${id}`, point, fileSystem: "ext4", bytes: 1e9, readOnly: false }],
  });
  const numbered = rig([socket, { ...disk, serial: "MOR-7" }], "numbered");

  it("is known by its drive's serial number, wherever that is mounted", () => {
    const drives = [seen("sda", "/mnt/x", ["OTHER"]), seen("sdb", "/media/y", ["mor7"])];
    expect(placeOf(numbered, "/mnt/x", drives)).toMatchObject({ path: "/media/y" });
    expect(placeOf(numbered, "/media/y/folder", drives)).toMatchObject({ path: "/media/y/folder" });
    expect(placeOf(numbered, "/mnt/x", [drives[0]!])).toBeNull();
  });

  it("is else known by the place that the plan names, but never by the system's own root", () => {
    const drives = [seen("vda", "/"), seen("sda", "/mnt/x")];
    expect(placeOf(slow, "/mnt/x/folder", drives)).toMatchObject({ path: "/mnt/x/folder" });
    expect(placeOf(slow, "/dev/sda", drives)).toMatchObject({ path: "/dev/sda" });
    expect(placeOf(slow, "/mnt/elsewhere", drives)).toBeNull();
  });

  it("shows an exchange where another drive is there than before, also if nobody saw the place empty", () => {
    const before = [seen("sda", "/mnt/x", ["A"])];
    expect(isExchanged(before, [seen("sda", "/mnt/x", ["B"])], "/mnt/x/folder")).toBe(true);
    expect(isExchanged(before, [seen("sdb", "/mnt/x", ["A"])], "/mnt/x")).toBe(true);
    expect(isExchanged(before, [...before, seen("sdb", "/mnt/y", ["B"])], "/mnt/x")).toBe(false);
    expect(isExchanged(before, [seen("sdb", "/mnt/y", ["B"])], "/mnt/x")).toBe(false);
  });
});
