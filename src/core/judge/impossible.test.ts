import { describe, expect, it } from "vitest";
import { drive, enclosure, port, USB_5G } from "../testing/rigs";
import { impossibleClaim } from "./impossible";

const slow = { ...enclosure(), connectors: [{ side: "up" as const, modes: USB_5G }] };

describe("a claim that its own link cannot carry", () => {
  it.each([
    [{ kind: "peak", direction: "read", mbps: 500 } as const, 1],
    [{ kind: "sustained", direction: "write", mbps: 470 } as const, 0],
    [{ kind: "link", gbps: 10 } as const, 1],
    [{ kind: "link", gbps: 5 } as const, 0],
    [{ kind: "iops", direction: "read", iops: 150_000 } as const, 1],
    [{ kind: "iops", direction: "read", iops: 100_000 } as const, 0],
  ])("%j: %d objections", (claim, objections) => {
    expect(impossibleClaim(slow, claim)).toHaveLength(objections);
  });

  it("is held against the side that faces the flow", () => {
    expect(impossibleClaim(port(USB_5G), { kind: "link", gbps: 20 })).toHaveLength(1);
    expect(impossibleClaim(drive(), { kind: "link", gbps: 32 })).toEqual([]);
  });
});
