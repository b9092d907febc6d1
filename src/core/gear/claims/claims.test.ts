import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { claimWords, Claim } from "../../chain/claim";
import { readEntry } from "../entry";
import { GEAR_KINDS } from "../gear-kind";
import { readClaims, type Claimant } from "./read-claims";
import { writeClaims } from "./write-claims";

const modesOf = (id: string) =>
  GEAR_KINDS.find((kind) => kind.id === id)!.connectors.flatMap(({ side, modes }) =>
    side === "up" ? modes : [],
  );
const BOX: Claimant = { kind: "enclosure", modes: modesOf("SSD enclosure, USB4 40 Gb/s, NVMe") };
const DRIVE: Claimant = { kind: "drive", modes: modesOf("NVMe drive, PCIe 4.0 ×4") };
const said = (line: string, claimant = BOX) => {
  const { claims, doubts } = readClaims(line, claimant);
  expect(doubts).toEqual([]);
  return claims.map((claim) => claimWords(claim).replaceAll("\u202f", " "));
};

describe("claims as printed", () => {
  it.each<[string, string[], Claimant?]>([
    ["1000 MB/s", ["peak 1 000 MB/s reading", "peak 1 000 MB/s writing"]],
    ["3500 MB/s", ["peak 3 500 MB/s reading"], DRIVE],
    ["up to 2800/2400 MB/s", ["peak 2 800 MB/s reading", "peak 2 400 MB/s writing"]],
    ["Up to 2,800 MB/s", ["peak 2 800 MB/s reading"], DRIVE],
    ["2,8 GB/s", ["peak 2 800 MB/s reading"], DRIVE],
    ["read 7 000 MB/s, write 5100 MB/s", ["peak 7 000 MB/s reading", "peak 5 100 MB/s writing"]],
    ["R: 560 W: 530 MB/s".replace(" W", ", W"), ["peak 560 MB/s reading", "peak 530 MB/s writing"]],
    ["write/read 900/1000 MB/s", ["peak 900 MB/s writing", "peak 1 000 MB/s reading"]],
    ["10 Gbps", ["a 10 Gb/s link"]],
    ["480 Mb/s", ["a 0.48 Gb/s link"]],
    ["550k IOPS", ["550 000 requests a second reading"], DRIVE],
    [
      "550k/520K IOPS",
      ["550 000 requests a second reading", "520 000 requests a second writing"],
      DRIVE,
    ],
    ["sustained 900MB/s write", ["sustained 900 MB/s writing"]],
    ["sustained write 900 MBps", ["sustained 900 MB/s writing"]],
    [
      "2700 MB/s read over 40 Gb/s, read 900 over USB",
      [
        "peak 2 700 MB/s reading over USB4 40 Gb/s, PCIe tunnel",
        "peak 2 700 MB/s reading over Thunderbolt 3, PCIe tunnel",
        "peak 900 MB/s reading over USB",
      ],
    ],
    [
      "read 80k IOPS 4 KiB 32 in flight",
      ["80 000 requests a second reading by 4 KiB, 32 in flight"],
      DRIVE,
    ],
    ["", []],
  ])("%s", (line, expected, claimant) => {
    expect(said(line, claimant)).toEqual(expected);
  });

  it.each<[string, RegExp, string[]]>([
    ["10 Gpbs", /Gpbs/, ["10 Gbps"]],
    ["1000 mb/s", /mb\/s/, ["1000 MB/s", "1000 Mb/s"]],
    ["2.800 MB/s", /two ways/, ["2800 MB/s", "2.8 MB/s"]],
    ["1000", /no unit/, ["1000 MB/s", "1000 Gb/s", "1000 IOPS"]],
    ["read 10 Gb/s", /in bits/, ["read 1250 MB/s", "10 Gb/s"]],
    ["900 MB/s over Ethernet", /no link/, ["900 MB/s"]],
    ["900 MB/s lifetime warranty", /warranty/, ["900 MB/s"]],
    ["fast", /no figure/, []],
    ["9e99 MB/s", /not/, []],
    ["99999999 MB/s", /beyond/, []],
    ["0 MB/s", /above 0/, []],
  ])("asks about %s, and never guesses", (line, what, lines) => {
    const { claims, doubts } = readClaims(line, BOX);
    expect(claims).toEqual([]);
    expect(doubts[0]!.what).toMatch(what);
    expect(doubts[0]!.instead.map((one) => one.line)).toEqual(lines);
    for (const one of lines) expect(readClaims(one, BOX).claims.length).toBeGreaterThan(0);
  });

  it("keeps what is clear beside what is not", () => {
    const { claims, doubts } = readClaims("1000 MB/s, 10 Gpbs", BOX);
    expect(claims).toHaveLength(2);
    expect(doubts).toHaveLength(1);
  });

  it("reads back what it writes", () => {
    const way = fc.constantFrom("read" as const, "write" as const);
    const printed = {
      direction: way,
      over: fc.option(
        fc.constantFrom("usb", "usb-10g", "usb4-40g-pcie", "thunderbolt", "sata", "pcie-3.0-x4"),
        {
          nil: undefined,
        },
      ),
      block: fc.option(fc.constantFrom(512, 4096, 2 ** 20), { nil: undefined }),
      depth: fc.option(fc.integer({ min: 1, max: 1024 }), { nil: undefined }),
    };
    const figure = fc.double({ min: 0.001, max: 999_999, noNaN: true });
    const claim = fc.oneof(
      fc.record({
        kind: fc.constantFrom("peak" as const, "sustained" as const),
        ...printed,
        mbps: figure,
      }),
      fc.record({ kind: fc.constant("iops" as const), ...printed, iops: figure }),
      fc.record({ kind: fc.constant("link" as const), gbps: fc.constantFrom(0.48, 5, 10, 40) }),
    );
    fc.assert(
      fc.property(fc.array(claim, { maxLength: 6 }), (some) => {
        const claims = some.map((one) => Claim.parse(one));
        const line = writeClaims(claims, BOX.modes);
        expect(readClaims(line, BOX)).toEqual({ claims, doubts: [] });
      }),
    );
  });

  it("takes a line of any length at once", () => {
    expect(readClaims("1 000 MB/s, ".repeat(20_000), BOX).doubts).toHaveLength(1);
    expect(readEntry("10g nvme box ".repeat(20_000), GEAR_KINDS).kinds).not.toEqual([]);
  });

  it("takes any text, and says something of all of it", () => {
    fc.assert(
      fc.property(fc.string({ maxLength: 60 }), (line) => {
        const { claims, doubts } = readClaims(line, BOX);
        for (const one of claims) expect(Claim.safeParse(one).success).toBe(true);
        if (/[a-z0-9]/i.test(line)) expect(claims.length + doubts.length).toBeGreaterThan(0);
      }),
    );
  });
});
