import { describe, expect, it } from "vitest";
import { observationsOf } from "../../study/measurement";
import { around, measured } from "../../testing/measured";
import { cable, drive, enclosure, port, rig } from "../../testing/rigs";
import { boxesIn } from "./boxes";
import { locate } from "../locate";

const [P, K, BOX, OTHER] = [port(), cable(), enclosure([], "Box"), enclosure([], "Other")];
const [A, B, C] = ["A", "B", "C"].map((name) => drive({}, name)) as [
  ...[ReturnType<typeof drive>, ReturnType<typeof drive>, ReturnType<typeof drive>],
];
type Seen = [who: typeof A, bay: string, mbps: number];
/** Drives in bays of the box, and some of them in another box. */
const runs = (inside: Seen[], outside: [typeof A, number][] = []) =>
  observationsOf([
    ...inside.map(([who, bay, mbps]) =>
      measured(rig([P, K, BOX, who], `${who.name} in ${bay}`, { bay }), around(mbps)),
    ),
    ...outside.map(([who, mbps]) =>
      measured(rig([P, K, OTHER, who], `${who.name} outside`), around(mbps)),
    ),
  ]);
const grid = (inside: Seen[], outside: [typeof A, number][] = []) =>
  boxesIn(runs(inside, outside))[0]!;

describe("drives by bays of a box", () => {
  it("are laid out as far as they were measured, bays in the order of their numbers", () => {
    const { bays, drives, cells } = grid([
      ...([
        [A, "10", 190],
        [B, "2", 191],
        [A, "2", 192],
      ] as Seen[]),
    ]);
    expect(bays).toEqual(["2", "10"]);
    expect(drives.map(({ name }) => name)).toEqual(["A", "B"]);
    expect(cells.map((row) => row.map((cell) => Math.round(cell?.mbps ?? 0)))).toEqual([
      [192, 190],
      [191, 0],
    ]);
  });

  it("are none where no bay is named, or one alone", () => {
    expect(
      boxesIn(
        runs([
          [A, "", 190],
          [B, "", 60],
        ]),
      ),
    ).toEqual([]);
    expect(
      boxesIn(
        runs([
          [A, "1", 190],
          [B, "1", 60],
        ]),
      ),
    ).toEqual([]);
  });

  it.each<[string, Seen[], [typeof A, number][], RegExp, boolean]>([
    [
      "nothing",
      [
        [A, "1", 190],
        [B, "2", 188],
      ],
      [],
      /what it does elsewhere/,
      false,
    ],
    [
      "the bay",
      [
        [A, "1", 190],
        [A, "3", 60],
        [B, "2", 190],
        [B, "3", 62],
      ],
      [],
      /it is the bay\./,
      false,
    ],
    [
      "the drive",
      [
        [A, "1", 60],
        [A, "2", 61],
        [B, "1", 190],
        [B, "2", 190],
      ],
      [[A, 190]],
      /it is the drive\./,
      false,
    ],
    [
      "the box",
      [
        [A, "1", 60],
        [B, "2", 61],
      ],
      [
        [A, 190],
        [B, 190],
      ],
      /the box itself/,
      false,
    ],
    [
      "bay or pair",
      [
        [A, "1", 190],
        [B, "2", 191],
        [C, "3", 60],
      ],
      [[C, 190]],
      /the bay, or the two do not go together/,
      true,
    ],
    [
      "bay or drive",
      [
        [A, "1", 190],
        [B, "2", 191],
        [C, "3", 60],
      ],
      [],
      /it is the drive or the bay/,
      true,
    ],
  ])("point at %s", (_, inside, outside, words, moves) => {
    const { points, move } = grid(inside, outside);
    expect(points).toMatch(words);
    expect(move !== null).toBe(moves);
    // The move puts another drive into the bay that is slow.
    if (move) expect(move).toMatchObject({ bay: "3", likeRigId: "C in 3", driveId: "A" });
  });

  it("are a place that may hold a rig back, and another bay a change to try", () => {
    const seen = runs(
      [
        [A, "1", 900],
        [B, "2", 905],
        [C, "3", 300],
      ],
      [[C, 900]],
    );
    const found = locate(seen, [P, K, BOX, OTHER, A, B, C], {
      of: ({ rig: { name } }) => name === "C in 3",
    })[0]!;
    expect(found.explanations[0]!.at).toEqual({ condition: "bay" });
    const texts = found.nextSwaps.map(({ text }) => text);
    expect(texts.some((text) => /^move C to bay [12]$/.test(text))).toBe(true);
    const unnamed = runs(
      [
        [A, "", 900],
        [B, "", 905],
        [C, "", 300],
      ],
      [[C, 900]],
    );
    const without = locate(unnamed, [P, K, BOX, OTHER, A, B, C], {
      of: ({ rig: { name } }) => name === "C in ",
    })[0]!;
    expect(
      without.explanations.some(({ at }) => at && "condition" in at && at.condition === "bay"),
    ).toBe(false);
  });
});
