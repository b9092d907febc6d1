import { describe, expect, it } from "vitest";
import type { Claim } from "../chain/claim";
import { blankStep } from "../run/step";
import type { BriefMeasurement, Measurement } from "../study/measurement";
import { around, measured } from "../testing/measured";
import { cable, drive, enclosure, part, PCIE, port, rig, USB_20G } from "../testing/rigs";
import { answered } from "../testing/answered";
import { drillsDone } from "./study";

/** The answer for whatever drill is asked for, and each kind of claim on the drills that can show it. */
const study = {
  id: "s",
  title: "t",
  tolerance: 0.05,
  smallestEffect: 0.03,
  simulated: false,
  demands: [],
};
const claims: Claim[] = [
  { kind: "peak", direction: "write", mbps: 1000 },
  { kind: "sustained", direction: "write", mbps: 600 },
  { kind: "iops", direction: "write", iops: 50_000 },
];
const box = enclosure(claims, "box");
const own = rig([port(), cable(), box, drive()], "own");
const fast = part("enclosure", "fast", { up: USB_20G, down: PCIE });
const control = rig([port(), cable(), fast, drive()], "control");

const write = { direction: "write" as const };
const haul = (rates: number[], of = own) => measured(of, rates, write);
/** Scatter at so many requests a second. */
const scatter = (iops: number, of = own) =>
  measured(of, around((iops * 4096) / 1e6), { ...write, drill: { name: "scatter" } });
/** A Long fill whose mean and sustained rates are these. */
const fill = (mean: number, sustained: number, of = own): Measurement =>
  measured(of, around(mean), {
    ...write,
    drill: { name: "long-fill" },
    result: {
      steps: [{ ...blankStep("flow", {}), burstMBps: mean, sustainedMBps: sustained }],
    },
  });

const verdicts = (runs: BriefMeasurement[], rigs = [own, control]) =>
  Object.fromEntries(
    answered(study, rigs, runs, "write").verdicts.map(({ claim, kind, reasons }) => [
      claim.kind,
      { kind, text: reasons.join(" ") },
    ]),
  );

describe("each kind of claim", () => {
  it("is open while only drills that cannot show it were done", () => {
    const found = verdicts([haul(around(1040))]);
    expect(found.peak!.kind).toBe("Delivers");
    expect(found.sustained!.kind).toBe("Can't tell yet");
    expect(found.iops!.kind).toBe("Can't tell yet");
    expect(found.iops!.text).toMatch(/has not been measured/);
  });

  it("of sustained speed is held against what a Long fill sustained, not against its mean", () => {
    expect(verdicts([fill(700, 640)]).sustained).toMatchObject({
      kind: "Delivers",
      text: expect.stringMatching(/own sustained 640 MB\/s/),
    });
    expect(verdicts([fill(900, 200)]).sustained!.kind).toBe("Can't tell yet");
    const challenged = [fill(900, 200), fill(1500, 1500, control)];
    expect(verdicts(challenged).sustained).toMatchObject({
      kind: "Falls short in this combination",
      text: expect.stringMatching(/67.% under the 600 MB\/s/),
    });
  });

  it("of small requests is held against Scatter, in requests a second", () => {
    expect(verdicts([scatter(52_000)]).iops).toMatchObject({
      kind: "Delivers",
      text: expect.stringMatching(/52.000 requests a second writing in 3 runs/),
    });
    expect(verdicts([scatter(20_000)]).iops!.kind).toBe("Can't tell yet");
    expect(verdicts([scatter(20_000), scatter(90_000, control)]).iops!.kind).toBe(
      "Falls short in this combination",
    );
    // Large blocks show nothing of small ones.
    expect(verdicts([scatter(20_000), haul(around(1900), control)]).iops!.kind).toBe(
      "Can't tell yet",
    );
  });
});

describe("the answer", () => {
  const runs = [scatter(20_000), fill(700, 640), haul(around(1040))];

  it("is that of the drill that is asked for, else of the first that was done", () => {
    expect(drillsDone(runs, "write").map(({ name }) => name)).toEqual([
      "haul",
      "scatter",
      "long-fill",
    ]);
    expect(drillsDone(runs, "read")).toEqual([]);
    const rate = (name: string | null) => {
      const answer = answered(study, [own], runs, "write", name);
      return [answer.drill, Math.round(answer.rigs[0]!.observation?.repeats.median ?? 0)];
    };
    expect(rate(null)).toEqual(["haul", 1040]);
    expect(rate("scatter")).toEqual(["scatter", 82]);
    expect(rate("long-fill")).toEqual(["long-fill", 700]);
    expect(rate("proof")).toEqual(["proof", 0]);
  });

  it("puts a small rate in small requests down to what the drive takes for each, and no part’s fault", () => {
    const { headline, rigs } = answered(study, [own], runs, "write", "scatter");
    expect(rigs[0]!.finding!.kind).toBe("by requests");
    expect(rigs[0]!.standing!.likeliest).toMatchObject({
      kind: "own-limit",
      at: { part: "drive" },
    });
    expect(
      headline
        .flat()
        .map(({ text }) => text)
        .join(""),
    ).toMatch(/rig A to 20.000 requests a second/);
  });

  it("passes over what reads and writes at once, which no single ceiling fits", () => {
    const mixed = measured(own, around(900), { drill: { name: "scatter" } });
    mixed.drill = { ...mixed.drill, direction: "mixed" };
    for (const direction of ["read", "write"] as const) {
      expect(answered(study, [own], [mixed], direction).rigs[0]!.observation).toBeNull();
    }
  });
});
