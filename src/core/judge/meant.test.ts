import { describe, expect, it } from "vitest";
import type { Claim } from "../chain/claim";
import { cellOf } from "../compare/cell";
import { observationsOf } from "../study/measurement";
import { around, measured } from "../testing/measured";
import { cable, drive, part, PCIE, port, rig, USB_20G } from "../testing/rigs";
import { judge, peak } from "./testing/judging";

/** A box with two buses, and what is printed for each. */
const FAST = ["usb4-40g-pcie"];
const USB = USB_20G.slice(0, 3);
const CLAIMS: Claim[] = [
  { ...peak(2700), kind: "peak", direction: "read", mbps: 2700, over: "usb4" },
  { ...peak(900), kind: "peak", direction: "read", mbps: 900, over: "usb" },
];
const two = (claims: Claim[]) =>
  part("enclosure", "two", { up: [...FAST, ...USB], down: PCIE }, { claims });
const through = (box = two(CLAIMS)) => ({
  fast: rig([port(FAST), cable(FAST), box, drive()], "fast"),
  slow: rig([port(USB, "usb port"), cable(USB, "usb cable"), box, drive()], "slow"),
});

describe("a claim that holds over one link", () => {
  it("is judged over that link only, one verdict each", () => {
    const { fast, slow } = through();
    const all = judge([fast, slow], [measured(fast, around(2750)), measured(slow, around(950))]);
    expect(all.map(({ kind, rig: on }) => [kind, on?.name])).toEqual([
      ["Delivers", "fast"],
      ["Delivers", "slow"],
    ]);
    // A bus that is too slow is not saved by the other one.
    const [, over] = judge(
      [fast, slow],
      [measured(fast, around(2750)), measured(slow, around(400))],
    );
    expect(over!.kind).not.toBe("Delivers");
    expect(over!.rig!.name).toBe("slow");
  });

  it("is open where no rig runs that link, or it was not measured there", () => {
    const { fast, slow } = through();
    const [, without] = judge([fast], [measured(fast, around(2750))]);
    expect(without).toMatchObject({ kind: "Can't tell yet", rig: null });
    expect(without!.reasons[0]).toMatch(/No rig .*USB/);
    const [, unmeasured] = judge([fast, slow], [measured(fast, around(2750))]);
    expect(unmeasured).toMatchObject({ kind: "Can't tell yet", rig: { name: "slow" } });
    expect(unmeasured!.settle[0]!.ask).toMatchObject({ rig: { like: "slow" }, drill: "haul" });
  });

  it("may name one mode, and one that the part does not have is impossible", () => {
    const { slow } = through(two([{ ...peak(900), over: "usb-10g" } as Claim]));
    expect(judge([slow], [measured(slow, around(950))])[0]!.kind).toBe("Delivers");
    const { fast } = through(two([{ ...peak(900), over: "sata" } as Claim]));
    const [odd] = judge([fast], [measured(fast, around(950))]);
    expect(odd!.kind).toBe("Can't tell yet");
    expect(odd!.impossible).toHaveLength(1);
  });

  it("stands beside a run in Compare only where it holds", () => {
    const { fast, slow } = through();
    const claimIn = (of: typeof fast) =>
      cellOf(observationsOf([measured(of, around(800))])[0]!, of).claim?.mbps;
    expect([claimIn(fast), claimIn(slow)]).toEqual([2700, 900]);
  });
});

describe("a claim that says by which requests", () => {
  const claims = [
    { kind: "iops", direction: "read", iops: 100_000, block: 4096, depth: 32 },
  ] as Claim[];
  const { slow } = through(two(claims));
  const scatter = (iops: number, depth: number, block = 4096) =>
    measured(slow, around((iops * block) / 1e6), { drill: { name: "scatter", block, depth } });

  it("is held against such runs only", () => {
    const one = scatter(9000, 1);
    const [other] = judge([slow], [one]);
    expect(other).toMatchObject({ kind: "Can't tell yet", observed: null });
    expect(other!.settle[0]!.ask).toMatchObject({
      drill: "scatter",
      set: { block: 4096, depth: 32 },
    });
    expect(judge([slow], [one, scatter(104_000, 32)])[0]!.kind).toBe("Delivers");
    // More in flight than the claim says is not what it says.
    expect(judge([slow], [one, scatter(104_000, 64)])[0]!.kind).toBe("Can't tell yet");
  });

  it("counts requests of the size that it says", () => {
    const { slow: own } = through(two([{ ...claims[0], block: 8192, iops: 50_000 } as Claim]));
    const run = measured(own, around((51_000 * 8192) / 1e6), {
      drill: { name: "scatter", block: 8192, depth: 32 },
    });
    const [verdict] = judge([own], [run]);
    expect(verdict!.kind).toBe("Delivers");
    expect(verdict!.reasons[0]).toMatch(/51.000 requests a second/);
  });
});
