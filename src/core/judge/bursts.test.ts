import { describe, expect, it } from "vitest";
import type { BriefMeasurement } from "../study/measurement";
import { cable, drive, port, rig } from "../testing/rigs";
import type { DropIn } from "./bursts";
import { box, fill, hauled, judge, NOTHING, wide, writing } from "./testing/judging";

const HEAT: DropIn = () => ({ cause: { kind: "heat", because: [] }, hottest: 80 });

describe("a claim kept in bursts only", () => {
  const B = box("B", [writing("peak", 900), writing("sustained", 850)]);
  const own = rig([port(), cable(), B, drive()], "own");
  const other = rig([port(), cable(), wide, drive()], "other");
  const bursts = (more: BriefMeasurement[], dropIn = NOTHING) => {
    const [first] = judge([own, other], [hauled(own, 950), fill(own, 950, 400), ...more], dropIn);
    return { kind: first!.kind, words: first!.reasons.join(" ") };
  };

  it("comes from the enclosure where the same drive keeps it up in another", () => {
    const { kind, words } = bursts([fill(other, 1000, 980)]);
    expect(kind).toBe("Delivers in bursts only");
    expect(words).toMatch(/own cache is not the cause/);
    const hot = bursts([fill(other, 1000, 980)], () => ({
      cause: { kind: "heat", because: [] },
      hottest: 71.4,
    }));
    expect(hot.words).toMatch(/the cause is heat, 71 °C at most/);
  });

  it("comes from the drive where that keeps up no more elsewhere", () => {
    const drives = bursts([fill(other, 1000, 410)]);
    expect(drives.words).toMatch(/its own cache gives out/);
    // Nothing puts that down to the enclosure: what Haul kept is delivered.
    expect(drives.kind).toBe("Delivers");
    // That it gave as little all along there says something of the way to it.
    expect(bursts([fill(other, 410, 410)]).words).toMatch(/is not known/);
    expect(bursts([fill(other, 410, 410), hauled(other, 1000)]).words).toMatch(/its own cache/);
  });

  it("comes from the enclosure where another drive sinks as far in it", () => {
    const disk = rig([port(), cable(), B, drive({}, "disk")], "disk");
    const words = (burst: number) =>
      judge(
        [own, disk],
        [hauled(own, 950), fill(own, 950, 400), fill(disk, burst, 395)],
      )[0]!.reasons.join(" ");
    expect(words(940)).toMatch(/the drive’s cache is not the cause/);
    expect(words(396)).toMatch(/is not known/);
  });

  it("comes from what its trace says where nothing else is known, and says so where that is nothing", () => {
    const cache: DropIn = () => ({ cause: { kind: "cache", because: ["a cliff"] }, hottest: null });
    expect(bursts([], cache).words).toMatch(/the drive’s cache gave out \(a cliff\)/);
    expect(bursts([], cache).kind).toBe("Delivers");
    expect(bursts([]).words).toMatch(/is not known/);
    expect(bursts([]).kind).toBe("Delivers");
    expect(bursts([], HEAT).kind).toBe("Delivers in bursts only");
  });

  it("is a drive's own where its trace shows that it sank, whatever made it sink", () => {
    const claiming = { ...drive(), claims: [writing("peak", 900)] };
    const alone = rig([port(), cable(), wide, claiming], "alone");
    const verdict = (kind: "cache" | "unknown" | null) =>
      judge([alone], [hauled(alone, 950), fill(alone, 950, 400)], () => ({
        cause: kind && { kind, because: [] },
        hottest: null,
      }))[0]!.kind;
    expect(verdict("cache")).toBe("Delivers in bursts only");
    expect(verdict("unknown")).toBe("Delivers in bursts only");
    expect(verdict(null)).toBe("Delivers");
  });

  it("is delivered as long as no long run says otherwise", () => {
    const [first] = judge([own], [hauled(own, 950)]);
    expect(first!.kind).toBe("Delivers");
    const [kept] = judge([own], [hauled(own, 950), fill(own, 950, 940)]);
    expect(kept!.kind).toBe("Delivers");
  });

  it("is not told from long runs through a path that is slow at once", () => {
    const cable5 = cable(["usb-480m"], "thin");
    const thin = rig([port(), cable5, B, drive()], "thin");
    const [slow] = judge([own, thin], [hauled(own, 950), hauled(thin, 40), fill(thin, 40, 39)]);
    expect(slow!.kind).toBe("Delivers");
    // Nor where nobody knows whether another drive takes a burst; its own trace tells.
    const disk = rig([port(), cable(), B, drive({}, "disk")], "disk");
    const [unknown] = judge([own, disk], [hauled(own, 950), fill(disk, 200, 199)]);
    expect(unknown!.kind).toBe("Delivers");
    const [told] = judge([own, disk], [hauled(own, 950), fill(disk, 940, 199)], HEAT);
    expect(told!.kind).toBe("Delivers in bursts only");
    // All else in that rig has carried more.
    const [cleared] = judge(
      [own, other, disk, rig([port(), cable(), wide, drive({}, "disk")], "both")],
      [
        hauled(own, 950),
        fill(disk, 200, 199),
        hauled(other, 1500),
        hauled(rig([port(), cable(), wide, drive({}, "disk")], "both"), 1500),
      ],
      HEAT,
    );
    expect(cleared!.kind).toBe("Delivers in bursts only");
  });

  it("falls short of a claim of sustained speed, with the cause", () => {
    const [, sustained] = judge(
      [own, other],
      [hauled(own, 950), fill(own, 950, 400), fill(other, 1000, 980)],
    );
    expect(sustained).toMatchObject({ kind: "Falls short in this combination" });
    expect(sustained!.reasons.join()).toMatch(/own cache is not the cause/);
  });
});
