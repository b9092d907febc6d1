import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { linkProblems, bottleneckOf } from "./bottleneck";
import { part, PCIE, rig, USB_10G, USB_20G, USB_5G } from "../testing/rigs";
import { Direction } from "../units/rate";
import { predict } from "./predict";
import type { Rig } from "./rig";
import { stagesOf } from "./stages";

/** What must hold of every chain, whatever parts it is made of. */

const modes = fc.constantFrom(USB_20G, USB_10G, USB_5G, ["usb-480m"]);
const own = fc.option(fc.integer({ min: 20, max: 3000 }), { nil: undefined });
const limits = fc.record({ read: own, write: own });
const direction = fc.constantFrom(...Direction.options);

const anyRig: fc.Arbitrary<Rig> = fc
  .record({
    port: modes,
    cables: fc.tuple(modes, modes),
    hub: fc.option(modes),
    box: fc.record({ modes, limits }),
    drive: limits,
    transport: fc.constantFrom(null, "usb-queued" as const, "usb-unqueued" as const),
  })
  .map(({ port, cables: [first, second], hub, box, drive, transport }) =>
    rig(
      [
        part("host-port", "Port", { down: port }),
        part("cable", "Lead 1", { through: first }),
        ...(hub
          ? [
              part("hub", "Hub", { up: hub, down: hub }),
              part("cable", "Lead 2", { through: second }),
            ]
          : []),
        part("enclosure", "Box", { up: box.modes, down: PCIE }, { limits: box.limits }),
        part("drive", "Disk", { up: PCIE }, { limits: drive }),
      ],
      "any",
      { transport },
    ),
  )
  .filter((one) => linkProblems(one).length === 0);

const ceilingOf = (one: Rig, way: Direction) => bottleneckOf(one, way)!.ceiling;
const without = (one: Rig, gone: (name: string) => boolean): Rig => ({
  ...one,
  parts: one.parts.filter(({ name }) => !gone(name)),
});

describe("a chain", () => {
  it("is as narrow as its narrowest stage, and the bottleneck says which that is", () => {
    fc.assert(
      fc.property(anyRig, direction, (one, way) => {
        const stages = stagesOf(one, way);
        const bottleneck = bottleneckOf(one, way)!;
        expect(bottleneck.ceiling).toBe(Math.min(...stages.map(({ ceiling }) => ceiling)));
        const marked = stages.filter(({ key }) => bottleneck.stageKeys.includes(key));
        expect(marked.length).toBeGreaterThan(0);
        for (const { ceiling } of marked) expect(ceiling).toBeCloseTo(bottleneck.ceiling, 9);
        expect(bottleneck.culprits.length).toBeGreaterThan(0);
        for (const { id } of bottleneck.culprits) {
          expect(one.parts.some((standing) => standing.id === id)).toBe(true);
        }
      }),
    );
  });

  it("has stages with a width, never wider than what they could have by themselves", () => {
    fc.assert(
      fc.property(anyRig, direction, (one, way) => {
        const keys = stagesOf(one, way).map(({ key }) => key);
        expect(new Set(keys).size).toBe(keys.length);
        for (const { ceiling, own: alone, attainable, held } of stagesOf(one, way)) {
          expect(ceiling).toBeGreaterThan(0);
          expect(alone).toBeGreaterThanOrEqual(ceiling * (1 - 1e-12));
          expect(attainable.low).toBeLessThanOrEqual(attainable.high);
          expect(attainable.high).toBeLessThanOrEqual(ceiling * (1 + 1e-12));
          expect(held).toBe(0);
        }
      }),
    );
  });

  it("is never narrower without its hub", () => {
    fc.assert(
      fc.property(anyRig, direction, (one, way) => {
        const direct = without(one, (name) => name === "Hub" || name === "Lead 2");
        if (linkProblems(direct).length > 0) return;
        expect(ceilingOf(direct, way)).toBeGreaterThanOrEqual(ceilingOf(one, way) * (1 - 1e-12));
      }),
    );
  });

  it("is never narrower with wider leads, and never wider with a limit more", () => {
    fc.assert(
      fc.property(anyRig, direction, fc.integer({ min: 10, max: 4000 }), (one, way, limit) => {
        const wider: Rig = {
          ...one,
          parts: one.parts.map((p) =>
            p.kind === "cable" ? part("cable", p.name, { through: USB_20G }) : p,
          ),
        };
        expect(ceilingOf(wider, way)).toBeGreaterThanOrEqual(ceilingOf(one, way) * (1 - 1e-12));
        const limited: Rig = {
          ...one,
          parts: one.parts.map((p) =>
            p.kind === "drive" ? { ...p, limits: { read: limit, write: limit } } : p,
          ),
        };
        expect(ceilingOf(limited, way)).toBeLessThanOrEqual(limit);
      }),
    );
  });

  it("predicts no drill above its bottleneck, and none slower for being deeper or larger", () => {
    const block = fc.integer({ min: 9, max: 24 }).map((power) => 2 ** power);
    const depth = fc.integer({ min: 1, max: 256 });
    fc.assert(
      fc.property(anyRig, direction, block, depth, (one, way, bytes, inFlight) => {
        const drill = (b: number, q: number) => predict(one, way, { block: b, depth: q })!;
        const { mbps, iops, rate } = drill(bytes, inFlight);
        expect(mbps).toBeLessThanOrEqual(ceilingOf(one, way) * (1 + 1e-12));
        expect(rate).toBe(ceilingOf(one, way));
        expect(iops * bytes).toBeCloseTo(mbps * 1e6, 0);
        expect(drill(bytes, inFlight + 1).mbps).toBeGreaterThanOrEqual(mbps * (1 - 1e-12));
        expect(drill(bytes * 2, inFlight).mbps).toBeGreaterThanOrEqual(mbps * (1 - 1e-12));
      }),
    );
  });
});
