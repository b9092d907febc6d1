import { describe, expect, it } from "vitest";
import type { Rig } from "../chain/rig";
import type { BriefMeasurement } from "../study/measurement";
import { around, measured } from "../testing/measured";
import { part, PCIE, rig, USB_10G, USB_5G } from "../testing/rigs";
import { compare, evidenceOf } from "./comparison";
import { costOf, pathCost, timeFor, upgrades } from "./practice";
import { queryOf, questionFrom, type Question } from "./question";
import { shown, type Around } from "./shown";
import { halfWay } from "./weak";
import { tellComparison } from "./comparison-words";

const port = part("host-port", "Port 1", { down: USB_10G });
const k5 = {
  ...part("cable", "K5", { through: USB_10G }),
  price: { amount: 20, currency: "EUR" },
};
const k2 = {
  ...part("cable", "K2", { through: USB_5G }),
  price: { amount: 5, currency: "EUR" },
};
const box = part("enclosure", "Serac", { up: USB_10G, down: PCIE });
const till = part("enclosure", "Till", { up: USB_10G, down: PCIE });
const drive = part("drive", "Moraine 1T", { up: PCIE });
const fast = rig([port, k5, box, drive], "K5");
const slow = rig([port, k2, box, drive], "K2");
const other = rig([port, k2, till, drive], "K2 and Till");

const ask = (
  measurements: BriefMeasurement[],
  change: Partial<Question> = {},
  rigs: Rig[] = [fast, slow, other],
) => {
  const question = { ...questionFrom({}), ...change };
  const evidence = evidenceOf(rigs, measurements);
  const comparison = compare(question, evidence, 0.03);
  return { comparison, page: shown(comparison, question, evidence, AROUND) };
};
const AROUND: Around = {
  demands: [],
  runsOf: () => [],
  ladders: [],
  jobs: [],
  works: [],
  caches: [],
  references: [],
  suites: [],
};
const cellsOf = ({ comparison }: ReturnType<typeof ask>, at = 0) =>
  Object.fromEntries(comparison.rows.map(({ letter, cells }) => [letter, cells[at]]));

describe("a question", () => {
  it("goes into an address and comes back as it was", () => {
    const question = questionFrom({
      drive: "d",
      drill: "haul",
      rigs: "a,b",
      direction: "write",
      against: "a",
      view: "bars",
      sort: "rate",
      unit: "Gb/s",
      gb: "250",
      other: "120",
      all: "true",
      down: "drive",
      across: "cable",
    });
    const address = new URLSearchParams(queryOf(question));
    expect(questionFrom(Object.fromEntries(address))).toEqual(question);
    expect(queryOf(questionFrom({}))).toBe("");
  });

  it("is as usual where its address makes no sense", () => {
    expect(
      questionFrom({
        direction: "sideways",
        view: "<script>",
        gb: "-4",
        unit: "furlongs",
        rigs: ",",
      }),
    ).toEqual(questionFrom({}));
  });
});

describe("an answer", () => {
  const runs = [
    measured(fast, around(1000)),
    measured(slow, around(450)),
    measured(slow, around(440), { direction: "write" }),
    measured(other, around(445)),
  ];

  it("has a row for each rig and a column for each drill and direction that was done", () => {
    const answer = ask(runs);
    expect(
      answer.comparison.columns.map(({ drill, direction }) => `${drill} ${direction}`),
    ).toEqual(["haul read", "haul write"]);
    expect(cellsOf(answer, 1)["A"]).toBeNull();
    expect(cellsOf(answer)["A"]!.efficiency).toBeCloseTo(1000 / cellsOf(answer)["A"]!.ceiling!, 6);
  });

  it("marks what differs from the baseline beyond the noise, and says by how much", () => {
    const cells = cellsOf(ask(runs, { against: slow.id, direction: "read" }));
    expect(cells["A"]).toMatchObject({ mark: "above" });
    expect(cells["A"]!.retention).toBeCloseTo(1000 / 450, 4);
    expect(cells["B"]!.mark).toBeNull();
    expect(cells["C"]!.mark).toBe("same");
    const one = cellsOf(
      ask([measured(fast, [1000]), measured(slow, around(450))], { against: slow.id }),
    );
    expect(one["A"]!.mark).toBe("unknown");
  });

  it("is put in the order that is asked for", () => {
    const letters = (sort: Question["sort"]) =>
      ask(runs, { sort, direction: "read" }).comparison.rows.map(({ letter }) => letter);
    expect(letters("letter")).toEqual(["A", "B", "C"]);
    expect(letters("rate")).toEqual(["A", "B", "C"]);
    expect(ask(runs, { sort: "rate" }, [slow, fast, other]).comparison.rows[0]!.rig.name).toBe(
      "K5",
    );
  });

  it("leaves out a run that was left out, and only that", () => {
    const [good, odd] = [measured(fast, around(1000)), measured(fast, [200])];
    odd.runs[0]!.leftOut = "the cable was pulled";
    expect(cellsOf(ask([odd, good]))["A"]!.repeats.n).toBe(3);
  });

  it("holds more rigs than are shown at first, and shows them when asked", () => {
    const many = Array.from({ length: 80 }, (_, i) => rig([port, k5, box, drive], `rig ${i}`));
    const all = many.map((one) => measured(one, around(900)));
    expect(ask(all, {}, many).comparison).toMatchObject({ hidden: 50 });
    expect(ask(all, { all: true }, many).comparison.rows).toHaveLength(80);
  });

  it("says the fastest and the slowest, and how the others stand", () => {
    const { page } = ask(runs, { against: slow.id, direction: "read" });
    const words = tellComparison(page, (mbps) => `${Math.round(mbps)} MB/s`);
    expect(words).toMatch(/from 445 MB\/s through rig C .*to 1000 MB\/s through rig A/);
    expect(words).toMatch(/1 rig above it, by up to 122.%, 1 rig the same/);
  });
});

describe("what is weak about an answer", () => {
  const weakOf = (measurements: BriefMeasurement[], change: Partial<Question> = {}) =>
    ask(measurements, change)
      .comparison.weak.map(({ what }) => what)
      .join("\n");

  it("is said of a single run, of restless repeats, and of more than the ceiling", () => {
    expect(weakOf([measured(fast, [1000])])).toMatch(/one run only/);
    expect(weakOf([measured(fast, [700, 1000, 900])])).toMatch(/10 % apart/);
    expect(weakOf([measured(fast, around(3000))])).toMatch(/above its hard ceiling/);
    expect(weakOf([measured(fast, around(1000))])).toBe("");
  });

  it("is that two things were changed, with the one rig that would make it sound", () => {
    const { weak } = ask([measured(fast, around(1000)), measured(other, around(445))], {
      against: fast.id,
    }).comparison;
    const two = weak.find(({ what }) => /2 things/.test(what))!;
    expect(two.letters).toEqual(["C"]);
    expect(two.rig?.parts).toEqual([port.id, k2.id, box.id, drive.id]);
    expect(halfWay(fast, fast)).toBeNull();
  });

  it("is another origin, another definition, other conditions", () => {
    const base = measured(fast, around(1000));
    const against = { against: fast.id };
    expect(weakOf([base, measured(slow, around(450), { origin: "typed" })], against)).toMatch(
      /typed here and measured there/,
    );
    expect(
      weakOf(
        [base, measured(slow, around(450), { drill: { name: "haul", seconds: 60 } as never })],
        against,
      ),
    ).toMatch(/another definition/);
    // What was asked for by other requests stands in a column of its own.
    const apart = ask(
      [base, measured(slow, around(450), { drill: { name: "haul", depth: 2 } as never })],
      against,
    );
    expect(apart.comparison.columns.map(({ depth }) => depth)).toEqual([2, 16]);
    expect(
      apart.comparison.rows.map(({ cells }) => cells.map((cell) => cell !== null)),
    ).toContainEqual([true, false]);
    const buffered = measured(slow, around(450));
    buffered.conditions = { ...buffered.conditions!, fileSystem: "xfs" };
    base.conditions = { ...base.conditions!, fileSystem: "ext4" };
    expect(weakOf([base, buffered], against)).toMatch(/other conditions/);
  });
});

describe("what an answer means in practice", () => {
  const cell = (mbps: number, more: object = {}) =>
    ({
      repeats: { median: mbps },
      burst: mbps,
      sustained: mbps,
      edgeBytes: null,
      ...more,
    }) as never;

  it("is the time to move so much, with the cache’s edge and the other side in it", () => {
    expect(timeFor(100e9, cell(1000), null, null)).toEqual({
      seconds: 100,
      sustained: false,
      byOther: false,
    });
    const long = cell(400, { burst: 1000, sustained: 200, edgeBytes: 50e9 });
    expect(timeFor(100e9, cell(1000), long, null)!.seconds).toBeCloseTo(50 + 250, 6);
    expect(timeFor(20e9, cell(1000), long, null)!.seconds).toBeCloseTo(20, 6);
    expect(timeFor(100e9, cell(1000), long, 100)).toMatchObject({ seconds: 1000, byOther: true });
    expect(timeFor(1, null, null, null)).toBeNull();
  });

  it("is what a path adds to each request, with one in flight and nothing else", () => {
    const [a, b] = [
      { iops: 5000, key: "k" },
      { iops: 10_000, key: "k" },
    ] as never[];
    expect(pathCost(a!, b!, 1)).toBeCloseTo(1e-4, 9);
    expect(pathCost(a!, b!, 24)).toBeNull();
    expect(pathCost(a!, null, 1)).toBeNull();
  });

  it("is what the parts cost, and what one exchanged part gained", () => {
    expect(costOf(fast)).toEqual({ amount: 20, currency: "EUR", unpriced: 2 });
    expect(costOf(rig([port, drive], "bare"))).toBeNull();
    const { comparison } = ask([
      measured(fast, around(1000)),
      measured(slow, around(450)),
      measured(other, around(440)),
    ]);
    const [best] = upgrades(comparison);
    expect([best!.from.letter, best!.to.letter]).toEqual(["B", "A"]);
    expect(best!.gain).toBeCloseTo(550, 6);
    expect(best!.extra).toEqual({ amount: 15, currency: "EUR" });
    // What memory answered was gained by no part.
    const memory = ask([measured(fast, around(7000)), measured(slow, around(450))]);
    expect(upgrades(memory.comparison)).toEqual([]);
    expect(memory.page.rows[0]!.per100).toBeNull();
  });

  it("holds drives by themselves against drives in an enclosure", () => {
    const quick = { ...drive, id: "quick", name: "Quick", limits: { read: 3000 } };
    const lazy = { ...drive, id: "lazy", name: "Lazy", limits: { read: 400 } };
    const rigs = [rig([port, k5, box, quick], "q"), rig([port, k5, box, lazy], "l")];
    const { page } = ask(
      [measured(rigs[0]!, around(900)), measured(rigs[1]!, around(398))],
      { view: "native" },
      rigs,
    );
    expect(page.native).toHaveLength(1);
    expect(page.native[0]!.points.every(({ stated }) => stated)).toBe(true);
    expect(Math.abs(page.native[0]!.fit!.ceiling! / 900 - 1)).toBeLessThan(0.03);
  });
});
