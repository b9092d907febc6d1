import { describe, expect, it } from "vitest";
import { cable, drive, enclosure, port } from "../testing/rigs";
import { combine, countCombined, isEqualRig, MOST_COMBINED } from "./combine";
import { RigDraft } from "./rig";

const named = <P extends { name: string; id: string }>(part: P, name: string): P => ({
  ...part,
  id: name,
  name,
});
const K1 = named(cable(), "K1");
const K2 = named(cable(), "K2");
const BOXES = [named(enclosure([]), "Serac"), named(enclosure([]), "Till")];
const path = (cables = [K1, K2]) => [
  { parts: [port()] },
  { parts: cables },
  { parts: [] },
  { parts: BOXES },
  { parts: [drive()] },
];

describe("many rigs from one path", () => {
  it("are every choice, named by what differs, and leave empty places out", () => {
    const rigs = combine(path());
    expect(rigs.map(({ name }) => name)).toEqual([
      "K1 · Serac",
      "K1 · Till",
      "K2 · Serac",
      "K2 · Till",
    ]);
    expect(rigs.every(({ parts }) => parts.length === 4)).toBe(true);
    expect(new Set(rigs.map(({ parts }) => parts.map(({ id }) => id).join())).size).toBe(4);
  });

  it("is one rig where each place has one part, named by all of them", () => {
    const [rig, ...more] = combine([{ parts: [port()] }, { parts: [drive()] }]);
    expect(more).toEqual([]);
    expect(rig!.name).toBe(`${port().name} · ${drive().name}`);
    expect(combine([])).toEqual([]);
  });

  it("stays within what can be looked through", () => {
    const many = Array.from({ length: MOST_COMBINED }, (_, i) => named(K1, `C${i}`));
    expect(countCombined(path(many))).toBe(2 * MOST_COMBINED);
    expect(combine(path(many))).toEqual([]);
  });
});

describe("equal rigs", () => {
  const draft = (more: object = {}) => RigDraft.parse({ name: "A", partIds: ["p", "d"], ...more });
  it("are those that differ in nothing but their name", () => {
    expect(
      isEqualRig(draft({ fileSystem: "ext4", name: "B" }), draft({ fileSystem: "ext4" })),
    ).toBe(true);
    expect(isEqualRig(draft(), draft({ fileSystem: "ext4" }))).toBe(false);
    expect(isEqualRig(draft(), draft({ partIds: ["d", "p"] }))).toBe(false);
    expect(
      isEqualRig(
        draft({ assumptions: { mtu: 1500, b: 2 } }),
        draft({ assumptions: { b: 2, mtu: 1500 } }),
      ),
    ).toBe(true);
  });
});
