import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { usualDrill } from "../../drills/shape";
import { modeOf } from "../../ledger/catalogue";
import { cable, drive, enclosure, port, rig, USB_10G, USB_5G } from "../../testing/rigs";
import { rateAt, requestsOf, shownBy } from "./requests";

const way = rig([port(USB_10G), cable(USB_10G, "K"), enclosure(), drive()]);
const scatter = (set: object = {}) => usualDrill("scatter", "read", { ...set });
const of = (set: object = {}, one = way) => requestsOf(one, "read", scatter(set))!;

describe("requests whose own time counts", () => {
  it("are small ones, and large ones that go one at a time", () => {
    const haul = (set: object) => requestsOf(way, "read", usualDrill("haul", "read", { ...set }));
    expect(haul({})).toBeNull();
    expect(haul({ depth: 1 })).toMatchObject({ block: 2 ** 19, depth: 1 });
    expect(of()).toMatchObject({ block: 4096, depth: 24, byLinks: false });
    const narrow = rig([port(USB_5G), ...way.parts.slice(1)]);
    expect(of({}, narrow)).toMatchObject({ depth: 24, byLinks: true });
    expect(of({ depth: 1 })).toMatchObject({ depth: 1, byLinks: false });
    expect(requestsOf(way, "read", usualDrill("ferry", "read", {}))).toBeNull();
  });

  it("go one at a time where the driver cannot queue, however many are asked for", () => {
    const unqueued = of({}, { ...way, transport: "usb-unqueued" });
    expect(unqueued).toMatchObject({ depth: 1, byLinks: false });
    expect(unqueued.mbps).toBeLessThan(of().mbps / 10);
  });

  it("hold the time of a drive that says so", () => {
    const said = drive({}, "said");
    const slow = rig([...way.parts.slice(0, 3), { ...said, requestUs: { read: 5000 } }]);
    expect(of({ depth: 1 }, slow).overheadUs).toBeCloseTo(of({ depth: 1 }).overheadUs + 5000, 6);
    expect(of({ depth: 1 }, slow).mbps).toBeLessThan(0.9);
  });

  it("take longer at high speed, where each waits for frames of the bus, and not at a wide link", () => {
    const at = (mode: string, set: object) => rateAt(of(set), way, modeOf(mode), "read");
    // Three frames of 125 µs beside some 100 µs: about a fifth of what a wide link gives.
    expect(at("usb-480m", { depth: 1 }) / of({ depth: 1 }).mbps).toBeLessThan(0.25);
    expect(at("usb-5g", { depth: 1 }) / of({ depth: 1 }).mbps).toBeGreaterThan(0.9);
    expect(at("usb-5g", {}) / of().mbps).toBeLessThan(0.5);
  });

  it("never give more at a slower mode, nor less with more of them in flight", () => {
    const modes = ["usb-12m", "usb-480m", "usb-5g", "usb-10g"].map(modeOf);
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 256 }),
        fc.constantFrom(512, 4096, 65536),
        (depth, block) => {
          const one = of({ depth, block });
          const rates = modes.map((mode) => rateAt(one, way, mode, "read"));
          expect(rates).toEqual(rates.toSorted((a, b) => a - b));
          expect(rates.at(-1)!).toBeLessThanOrEqual(one.mbps);
          const more = rateAt(of({ depth: depth + 1, block }), way, modes[1]!, "read");
          expect(more).toBeGreaterThanOrEqual(rates[1]! * (1 - 1e-9));
        },
      ),
    );
  });
});

describe("what other rigs show of what is foreseen", () => {
  const single = of({ depth: 1 });
  const narrow = of({}, rig([port(USB_5G), ...way.parts.slice(1)]));

  it("is the most that any reached of it, and never more than all", () => {
    const shown = shownBy([
      { requests: single, median: single.mbps * 0.4 },
      { requests: single, median: single.mbps * 0.7 },
      { requests: narrow, median: narrow.mbps * 1.2 },
      { requests: null, median: 1000 },
    ]);
    expect(shown(single)).toBeCloseTo(0.7, 9);
    expect(shown(narrow)).toBe(1);
  });

  it("is nothing for requests on another way, or of which others are in flight", () => {
    const shown = shownBy([{ requests: single, median: single.mbps }]);
    expect(shown(of())).toBe(0);
    expect(shown(of({ depth: 1 }, { ...way, transport: "usb-unqueued" }))).toBe(0);
    expect(shownBy([])(single)).toBe(0);
  });
});
