import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { account } from "../../ledger/account";
import { modeOf } from "../../ledger/catalogue";
import { cable, drive, enclosure, port, rig, USB_10G, USB_20G, USB_5G } from "../../testing/rigs";
import { bottleneckOf } from "../../chain/bottleneck";
import { swapsFor } from "./swap";

const ceiling = (id: string) => account(modeOf(id), "read").hardCeiling;
const slow = cable(USB_5G, "K2");
const bench = rig([port(), slow, enclosure(), drive()]);

describe("one part changed", () => {
  const cheap = { ...cable(USB_10G, "K7"), price: { amount: 12, currency: "EUR" } };
  const dear = { ...cable(USB_20G, "K5"), price: { amount: 24, currency: "EUR" } };

  it("offers what widens the bottleneck, the cheaper first among equals, with the price of it", () => {
    const swaps = swapsFor(bench, [slow, dear, cheap], "read");
    expect(swaps.map((swap) => swap.in.name)).toEqual(["K7", "K5"]);
    const gain = ceiling("usb-10g") - ceiling("usb-5g");
    expect(swaps[0]!.gain).toBeCloseTo(gain, 9);
    expect(swaps[0]!.pricePerMBps).toBeCloseTo(12 / gain, 9);
    expect(swaps[0]!.bottleneck.culprits.map(({ name }) => name)).toEqual(["K7", "box"]);
    expect(swaps[1]!.bottleneck.culprits.map(({ name }) => name)).toEqual(["box"]);
  });

  it("offers nothing that gains nothing, will not link, or is of another kind", () => {
    const shelf = [port(USB_20G, "other port"), cable(["sata-6g"], "odd"), cable(USB_5G, "K3")];
    expect(swapsFor(bench, shelf, "read")).toEqual([]);
  });

  it("never offers a loss, and counts the gain right", () => {
    const modes = fc.shuffledSubarray(USB_20G, { minLength: 1 });
    fc.assert(
      fc.property(fc.array(modes, { maxLength: 5 }), (cables) => {
        const shelf = cables.map((list, i) => cable(list, `K${i + 10}`));
        for (const swap of swapsFor(bench, shelf, "read")) {
          const parts = bench.parts.map((part) => (part === swap.out ? swap.in : part));
          const after = bottleneckOf({ ...bench, parts }, "read")!.ceiling;
          expect(swap.gain).toBeGreaterThan(0);
          expect(after - bottleneckOf(bench, "read")!.ceiling).toBeCloseTo(swap.gain, 9);
        }
      }),
    );
  });
});
