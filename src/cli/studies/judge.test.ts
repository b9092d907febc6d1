import { describe, expect, it } from "vitest";
import { StudyFile, studyOf, type StudyFileInput } from "@/core/exchange/study-file";
import { demandLines, demandsIn } from "./demands";
import { documentOf } from "./judge";
import { conclusionsIn } from "./study-file";

const USB = ["usb-480m", "usb-5g", "usb-10g"];
const SLOT = ["pcie-3.0-x2"];
const up = (modes: string[]) => ({ side: "up" as const, modes });
const down = (modes: string[]) => ({ side: "down" as const, modes });
type Run = NonNullable<StudyFileInput["runs"]>[number];
const run = (
  rigId: string,
  name: string,
  direction: "read" | "write",
  ...ratesMBps: number[]
): Run => ({ rigId, drill: { name, direction }, ratesMBps });

const box = (id: string, claims: StudyFileInput["parts"][number]["claims"] = []) => ({
  id,
  kind: "enclosure" as const,
  name: id,
  claims,
  connectors: [up(USB), down(SLOT)],
});
/** Two enclosures for one drive, on the same port and cable. */
const study = (claims: StudyFileInput["parts"][number]["claims"], runs: Run[]) => {
  const file = StudyFile.parse({
    format: "nerrit-study",
    version: 1,
    title: "Does it deliver?",
    parts: [
      { id: "p", kind: "host-port", name: "Port", connectors: [down(USB)] },
      { id: "k", kind: "cable", name: "K", connectors: [{ side: "through", modes: USB }] },
      box("own", claims),
      box("other"),
      { id: "d", kind: "drive", name: "Disk", connectors: [up(SLOT)] },
    ],
    rigs: [
      { id: "r", name: "own box", partIds: ["p", "k", "own", "d"] },
      { id: "s", name: "other box", partIds: ["p", "k", "other", "d"] },
    ],
    runs,
  } satisfies StudyFileInput);
  return conclusionsIn(studyOf(file)).judged().map(documentOf);
};
const peak = { kind: "peak", direction: "read", mbps: 950 } as const;

describe("judging from a study's file", () => {
  it("delivers what passed, whatever else is in the rig", () => {
    const [claim] = study([peak], [run("r", "haul", "read", 1000, 1004)]);
    expect(claim).toMatchObject({ partId: "own", claim: peak, verdict: "delivers" });
    expect(claim).toMatchObject({ impossible: false, shortfall: null, settle: [] });
  });

  it("falls short only where all the rest was shown to carry more", () => {
    const slow = run("r", "haul", "read", 600, 602);
    const [open] = study([peak], [slow]);
    expect(open).toMatchObject({ verdict: "cant-tell" });
    expect(open!.settle.length).toBeGreaterThan(0);
    const [short] = study([peak], [slow, run("s", "haul", "read", 1030, 1034)]);
    // Whether the box itself is slow or only beside the port, the cable or the drive is open.
    expect(short).toMatchObject({ verdict: "falls-short", scope: "combination" });
    expect(short!.settle).toEqual([expect.stringMatching(/tells whether own is slow by itself/)]);
    expect(short!.shortfall).toBeCloseTo(1 - 601 / 950, 3);
  });

  it("delivers a peak in bursts only where the drive holds it in another box over a long run", () => {
    const writing = { kind: "peak", direction: "write", mbps: 900 } as const;
    const burst = run("r", "haul", "write", 950, 955);
    const [kept] = study([writing], [burst, run("r", "long-fill", "write", 940, 944)]);
    expect(kept).toMatchObject({ verdict: "delivers" });
    const sank = run("r", "long-fill", "write", 300, 304);
    // Nothing puts that down to the box: it may be the drive's own cache.
    expect(study([writing], [burst, sank])[0]).toMatchObject({ verdict: "delivers" });
    const control = run("s", "long-fill", "write", 940, 944);
    const [only] = study([writing], [burst, sank, control]);
    expect(only).toMatchObject({ verdict: "delivers-in-bursts-only", scope: null });
    // A claim of sustained speed is another claim.
    const sustained = { ...writing, kind: "sustained" } as const;
    const [long] = study([sustained], [burst, run("r", "long-fill", "write", 300, 304)]);
    expect(long!.verdict).not.toMatch(/delivers/);
  });

  it("delivers a link class where such a link ran and the rate lies in its band", () => {
    const link = { kind: "link", gbps: 10 } as const;
    const [kept] = study([link], [run("r", "haul", "read", 1000, 1004)]);
    expect(kept).toMatchObject({ verdict: "delivers", claim: link });
    const [open] = study([link], [run("r", "haul", "read", 450, 452)]);
    expect(open).toMatchObject({ verdict: "cant-tell" });
  });

  it("says that a claim is impossible before anything is measured", () => {
    const [claim] = study([{ ...peak, mbps: 2000 }], []);
    expect(claim).toMatchObject({ verdict: "cant-tell", impossible: true });
    const [faster] = study([{ kind: "link", gbps: 40 }], []);
    expect(faster).toMatchObject({ impossible: true });
  });

  it("keeps several claims of one part apart", () => {
    const claims = study(
      [peak, { ...peak, kind: "sustained", mbps: 500 }, { ...peak, mbps: 2000 }],
      [run("r", "haul", "read", 1000, 1004), run("r", "long-fill", "write", 300, 305)],
    );
    expect(claims.map(({ verdict }) => verdict)).toEqual(["delivers", "cant-tell", "cant-tell"]);
    expect(claims.map(({ impossible }) => impossible)).toEqual([false, false, true]);
  });
});

describe("demands in a study's file", () => {
  it("are open by a short run, and held against what a long fill sustained", () => {
    const file = (runs: Run[]) =>
      studyOf(
        StudyFile.parse({
          format: "nerrit-study",
          version: 1,
          title: "Is it enough?",
          parts: [
            { id: "p", kind: "host-port", name: "Port", connectors: [down(USB)] },
            { id: "d", kind: "drive", name: "Disk", connectors: [up(USB)] },
          ],
          rigs: [{ id: "r", name: "bare", partIds: ["p", "d"] }],
          demands: [
            {
              name: "take the card in",
              streams: [],
              copies: [{ what: "card", direction: "write", gigabytes: 150, minutes: 5 }],
            },
          ],
          runs,
        } satisfies StudyFileInput),
      );
    const haul = run("r", "haul", "write", 800, 802, 801);
    expect(demandsIn(file([haul]))).toMatchObject([
      { demand: "take the card in", rigId: "r", direction: "write", fit: "open", needMBps: 500 },
    ]);
    expect(demandsIn(file([haul, run("r", "long-fill", "write", 300)]))).toMatchObject([
      { fit: "missed", haveMBps: 300 },
    ]);
    expect(demandLines(demandsIn(file([haul])))[0]).toMatch(/open/);
  });
});
