import fc from "fast-check";
import { describe, expect, it } from "vitest";
import type { Part } from "../../chain/part";
import type { Rig } from "../../chain/rig";
import { usualDrill } from "../../drills/shape";
import { summarise } from "../../stats/repeats";
import { cable, drive, enclosure, hub, port, rig, USB_10G, USB_5G } from "../../testing/rigs";
import { placeKey } from "./explanation";
import { locate, placesOf, type Located, type Observation } from "../locate";
import { carriedIn } from "../findings/carried";
import { evidenceOn } from "../findings/for-and-against";
import { tellLocated, tellNext } from "../findings/sentences";

const haul = usualDrill("haul", "read");
const P = port(USB_10G, "port");
const [K1, K2, K3] = ["K1", "K2", "K3"].map((name) => cable(USB_10G, name)) as [Part, Part, Part];
const H = hub(USB_10G, "hub");
const B = enclosure();
const D = drive({});
const SHELF = [P, K1, K2, K3, H, B, D];

let count = 0;
const setUp = (parts: Part[], more: Partial<Rig> = {}): Rig => ({
  ...rig(parts),
  fileSystem: "ext4",
  host: "desk",
  id: `rig-${++count}`,
  ...more,
});
const seen = (one: Rig, ...rates: number[]): Observation => ({
  rig: one,
  drill: haul,
  doubtful: false,
  measurementIds: [one.id],
  repeats: summarise(rates),
});
const slow = setUp([P, K1, B, D]);
const of = (observations: Observation[], shelf = SHELF): Located =>
  locate(observations, shelf, { of: ({ rig: one }) => one === observations[0]!.rig })[0]!;
const chanceOf = ({ explanations }: Located, at: Parameters<typeof placeKey>[0]) =>
  explanations
    .filter(({ place }) => place === placeKey(at))
    .reduce((sum, { probability }) => sum + probability, 0);

describe("what holds a rig back", () => {
  it("is open where one slow rig is all there is, and the cable is suspected most", () => {
    const found = of([seen(slow, 450, 447)]);
    expect(found.settled).toBe(false);
    expect(found.explanations[0]).toMatchObject({ kind: "dropped-mode", at: { part: "K1" } });
    expect(found.explanations.reduce((sum, { probability }) => sum + probability, 0)).toBeLessThan(
      1 + 1e-9,
    );
    expect(found.nextSwaps[0]!.rig.parts.map(({ name }) => name)).toContain("K2");
    expect(tellLocated(found)).toMatch(/is open|ikely/);
  });

  it("is nothing but the ledger in a rig at its ceiling", () => {
    const found = of([seen(slow, 1020, 1031)]);
    expect(found.settled).toBe(true);
    expect(found.explanations[0]).toMatchObject({ kind: "as-designed", at: { ledger: "box" } });
    expect(found.nextSwaps).toEqual([]);
  });

  it("is nothing but the ledger, however many rigs lie at about the same rate below it", () => {
    const cables = Array.from({ length: 9 }, (_, i) => cable(USB_10G, `C${i}`));
    const all = cables.map((one, i) => seen(setUp([P, one, B, D]), 1005 + 4 * i, 1007 + 4 * i));
    for (const found of locate(all, [...SHELF, ...cables])) {
      expect(found.settled).toBe(true);
      expect(found.explanations[0]!.kind).toBe("as-designed");
      expect(found.explanations[0]!.probability).toBeGreaterThan(0.95);
    }
  });

  it("is the driver’s mode where that is stated and foreseen to cost it", () => {
    const found = of([seen({ ...slow, transport: "usb-unqueued" }, 400, 404)]);
    expect(found.explanations[0]!.at).toEqual({ condition: "transport" });
  });

  it("is memory where a rate exceeds what its links carry", () => {
    const found = of([seen(slow, 3000, 3010)]);
    expect(found.explanations[0]).toMatchObject({ kind: "memory-answered" });
    expect(found.settled).toBe(false);
  });

  it("is found by the swap that frees the rig, with the evidence said", () => {
    const free = setUp([P, K2, B, D]);
    const found = of([seen(slow, 450, 447), seen(free, 1010, 1020)]);
    expect(chanceOf(found, { part: "K1" })).toBeGreaterThan(0.8);
    const { for: pro } = evidenceOn(found.explanations[0]!, found);
    expect(pro.map(({ text }) => text).join(" ")).toMatch(
      /All else in .* has carried clearly more than 44\d/,
    );
    // What is listed are runs of rigs in which the cable stands.
    expect(pro.flatMap(({ measurementIds }) => measurementIds)).not.toContain(free.id);
  });

  it("takes no evidence from a rig that another cause surely explains", () => {
    // K1 is found by a swap; the other rig with K1 and another box says nothing for that box.
    const [B2, free] = [enclosure([], "B2"), setUp([P, K2, B, D])];
    const both = [seen(setUp([P, K1, B2, D]), 449, 451), seen(slow, 450, 447)];
    const found = of([...both, seen(free, 1010, 1020)], [...SHELF, B2]);
    const boxes = found.explanations.filter(({ site }) =>
      site?.parts.some(({ id }) => id === "B2"),
    );
    for (const one of boxes)
      for (const { measurementIds } of evidenceOn(one, found).for)
        expect(measurementIds).not.toContain(slow.id);
    expect(chanceOf(found, { part: "K1" })).toBeGreaterThan(0.8);
  });

  it("has no evidence in a rig whose own ledger would hold it there anyway", () => {
    const narrow = hub(USB_5G, "narrow hub");
    const gaveAsLittle = (other: Rig) => {
      const found = of([seen(slow, 450, 447), seen(other, 449, 452)], [...SHELF, narrow]);
      const cause = found.explanations.find(({ at }) => placeKey(at) === placeKey({ part: B.id }))!;
      return evidenceOn(cause, found).for.some(({ text }) => /gave 450 MB\/s as well/.test(text));
    };
    expect(gaveAsLittle(setUp([P, K2, H, K3, B, D]))).toBe(true);
    expect(gaveAsLittle(setUp([P, K2, narrow, K3, B, D]))).toBe(false);
  });

  it("names a slower mode only where its usual protocol gets such a rate out of it", () => {
    const said = (mbps: number) => {
      const found = of([seen(slow, mbps, mbps + 1), seen(setUp([P, K2, B, D]), 1010, 1020)]);
      const cause = found.explanations.find(({ kind }) => kind === "dropped-mode")!;
      return cause
        ? evidenceOn(cause, found)
            .for.map(({ text }) => text)
            .join(" ")
        : "";
    };
    expect(said(447)).toMatch(/lies where a 5 Gb\/s link does/);
    // The same link with a driver that does not queue, which nothing suggests.
    expect(said(560)).not.toMatch(/lies where/);
  });

  it("is asked of other drills where no swap tells apart what is left", () => {
    const bare = setUp([P, K1, B, D], { fileSystem: "", host: "" });
    const found = of([seen(bare, 300, 303)], [P, K1, B, D]);
    expect(found.settled).toBe(true);
    expect(placesOf(found.explanations)[0]!.explanations.length).toBeGreaterThan(3);
    expect(found.nextSwaps.length).toBeGreaterThan(0);
    expect(found.nextSwaps.every(({ kind, rig: same }) => kind === "drill" && same === bare)).toBe(
      true,
    );
    // Each outcome means one of those that stand together.
    expect(tellNext(found.nextSwaps[0]!, found)).toMatch(/then it is (K1|box|drive|port)/);
    expect(found.borrow).not.toBeNull();
  });

  it("is settled once the suspect stays slow elsewhere too", () => {
    const found = of([
      seen(slow, 450, 447),
      seen(setUp([P, K2, B, D]), 1010, 1020),
      seen(setUp([P, K1, H, K3, B, D]), 446, 452),
      seen(setUp([P, K2, H, K1, B, D]), 449, 451),
    ]);
    expect(found.settled).toBe(true);
    expect(found.explanations[0]!.at).toEqual({ part: "K1" });
  });

  it("is the pair where each of its parts carries more elsewhere", () => {
    const box2 = { ...enclosure(), id: "box2", name: "box2" };
    const found = of(
      [
        seen(slow, 500, 503),
        seen(setUp([P, K2, B, D]), 1010, 1020),
        seen(setUp([P, K1, box2, D]), 1010, 1020),
      ],
      [...SHELF, box2],
    );
    expect(found.explanations[0]).toMatchObject({ kind: "pairing" });
    expect(placesOf(found.explanations)[0]!.key).toMatch(/K1/);
  });

  it("has no next swap that will not link, is measured, or is not on the shelf", () => {
    const short = cable(USB_5G, "short");
    const found = of([seen(slow, 450, 447)], [...SHELF, short]);
    const ids = new Set([...SHELF, short].map(({ id }) => id));
    for (const { rig: made } of found.nextSwaps) {
      expect(made.parts.every(({ id }) => ids.has(id))).toBe(true);
      expect(made.parts.map(({ id }) => id).join()).not.toBe("port,K1,box,drive, ext4");
    }
    // What carries no more than the slow rig by its own ledger tells little.
    expect(found.nextSwaps[0]!.rig.parts.map(({ name }) => name)).not.toContain("short");
    expect(tellNext(found.nextSwaps[0]!, found)).toMatch(/^Next: put K\d in place of K1\. At/);
  });
});

describe("however it is put", () => {
  const rates = fc.double({ min: 200, max: 1050, noNaN: true });

  it("a run that shows a part carrying more never raises its guilt", () =>
    fc.assert(
      fc.property(rates, fc.double({ min: 1.3, max: 2, noNaN: true }), (rate, more) => {
        const base = [seen(slow, rate, rate * 1.01)];
        const before = chanceOf(of(base), { part: "K1" });
        const faster = Math.min(1050, rate * more);
        if (faster < rate * 1.3) return;
        const shown = seen(setUp([P, K1, H, K2, B, D]), faster, faster * 1.01);
        expect(chanceOf(of([...base, shown]), { part: "K1" })).toBeLessThanOrEqual(before + 1e-6);
      }),
      { numRuns: 15 },
    ));

  it.each([340, 370, 385, 400, 440])(
    "nor where %d MB/s is about what a slower mode gives, and what is shown is a little more",
    (rate) => {
      const base = [seen(slow, rate, rate * 1.01)];
      const before = of(base);
      for (const more of [1.3, 1.38]) {
        const shown = seen(setUp([P, K1, H, K2, B, D]), rate * more, rate * more * 1.01);
        const after = of([...base, shown]);
        for (const part of ["K1", "port", "box", "drive"])
          expect(chanceOf(after, { part })).toBeLessThanOrEqual(chanceOf(before, { part }) + 1e-6);
      }
    },
  );

  it("neither the order of runs nor the names of parts matter", () =>
    fc.assert(
      fc.property(rates, rates, rates, (a, b, c) => {
        const all = [
          seen(slow, a, a * 1.01),
          seen(setUp([P, K2, B, D]), b, b * 1.02),
          seen(setUp([P, K1, H, K3, B, D]), c, c * 0.99),
        ];
        const renamed = (part: Part) => ({
          ...part,
          id: `z-${part.id}-x`,
          name: `other ${part.name}`,
        });
        const there = all.map((one) => ({
          ...one,
          rig: { ...one.rig, parts: one.rig.parts.map(renamed) },
        }));
        const first = of(all);
        const turned = locate([...all].reverse(), SHELF, {
          of: ({ rig: one }) => one === slow,
        })[0]!;
        const other = locate(there, SHELF.map(renamed), { of: (one) => one === there[0] })[0]!;
        expect(chanceOf(turned, { part: "K1" })).toBeCloseTo(chanceOf(first, { part: "K1" }), 6);
        expect(chanceOf(other, { part: "z-K1-x" })).toBeCloseTo(chanceOf(first, { part: "K1" }), 6);
      }),
      { numRuns: 10 },
    ));

  it("a repeat of the same set-up counts less than a new one", () => {
    const base = [seen(slow, 450, 447), seen(setUp([P, K2, B, D]), 1010, 1020)];
    const again = chanceOf(of([seen(slow, 450, 447, 449, 448), base[1]!]), { part: "K1" });
    const anew = chanceOf(of([...base, seen(setUp([P, K1, H, K3, B, D]), 449, 448)]), {
      part: "K1",
    });
    expect(anew).toBeGreaterThan(again);
  });

  it("two equal cables exchanged change nothing", () => {
    const one = of([seen(slow, 450, 447), seen(setUp([P, K2, B, D]), 1010, 1020)]);
    const first = setUp([P, K2, B, D]);
    const two = of([seen(first, 450, 447), seen(setUp([P, K1, B, D]), 1010, 1020)]);
    expect(chanceOf(two, { part: "K2" })).toBeCloseTo(chanceOf(one, { part: "K1" }), 9);
  });
});

describe("a rate near the band of good hardware", () => {
  const designed = (mbps: number) =>
    of([seen(slow, mbps, mbps * 1.004)])
      .explanations.filter(({ kind }) => kind === "as-designed")
      .reduce((sum, { probability }) => sum + probability, 0);

  it("is as designed within it and a little below, and suspicious clearly below", () => {
    const { least } = of([seen(slow, 1000, 1004)]).trial.ledger;
    expect(designed(least * 1.02)).toBeGreaterThan(0.95);
    expect(designed(least * 0.98)).toBeGreaterThan(0.9);
    expect(designed(least * 0.84)).toBeLessThan(0.5);
    expect(designed(least * 0.8)).toBeLessThanOrEqual(designed(least * 0.9));
  });
});

describe("what each part has been shown to carry", () => {
  it("clears what went clearly faster, and names what was never seen alone", () => {
    const found = of([seen(slow, 450, 447), seen(setUp([P, K2, B, D]), 1010, 1020)]);
    const reaches = carriedIn(found.posterior, found.trial);
    const state = (name: string) => reaches.find(({ site }) => site.name === name)?.state;
    expect(state("port")).toBe("cleared");
    expect(state("box")).toBe("cleared");
    expect(state("K1")).toBe("suspect");
    const alone = of([seen(slow, 450, 447)]);
    const [first] = carriedIn(alone.posterior, alone.trial);
    expect(first).toMatchObject({ state: "untried" });
    expect(first!.onlyWith.map(({ name }) => name)).toContain("K1");
    expect(first!.shown!.mbps).toBeCloseTo(448.5, 1);
  });

  it("has no suspects in a rig that runs as designed", () => {
    const found = of([seen(slow, 1010, 1020)]);
    const reaches = carriedIn(found.posterior, found.trial);
    expect(new Set(reaches.map(({ state }) => state))).toEqual(new Set(["enough"]));
  });
});
