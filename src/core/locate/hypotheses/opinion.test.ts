import { describe, expect, it } from "vitest";
import { usualDrill } from "../../drills/shape";
import { summarise } from "../../stats/repeats";
import { around, measured } from "../../testing/measured";
import { cable, drive, enclosure, hub, port, rig, USB_10G } from "../../testing/rigs";
import { singleChanges } from "../steps/single-changes";
import { learntMinutes, withLearnt } from "../steps/learnt-minutes";
import { locate, placesOf } from "../locate";
import {
  priorShare,
  Opinion,
  PRIOR_KEYS,
  PRIORS,
  priorsOfPart,
  reasonOf,
  USUAL_OPINION,
  usualShare,
} from "./opinion";

const [K1, K2] = [cable(USB_10G, "K1"), cable(USB_10G, "K2")];
const slow = {
  ...rig([port(USB_10G), K1, enclosure(), drive({})], "slow"),
  fileSystem: "ext4",
  host: "desk",
};
const seen = {
  rig: slow,
  drill: usualDrill("haul", "read"),
  doubtful: false,
  measurementIds: ["m"],
  repeats: summarise([400, 404]),
};
const locateBy = (opinion: Opinion) => locate([seen], [K2, hub(USB_10G)], { opinion })[0]!;
const chance = (opinion: Opinion, key: string) =>
  placesOf(locateBy(opinion).explanations).find((one) => one.key === key)?.probability ?? 0;

describe("what a tester believes", () => {
  it("is the usual where nothing else is said, and covers every kind of part", () => {
    for (const key of PRIOR_KEYS) expect(priorShare(USUAL_OPINION, key)).toBe(usualShare(key));
    expect(priorsOfPart("cable").map(({ kind }) => kind)).toEqual(["dropped-mode", "fault"]);
    expect(priorsOfPart("drive").map(({ kind }) => kind)).toEqual(["own-limit", "fault"]);
  });

  it("has a reason of its own where it stands for more than its kind of cause", () => {
    for (const key of ["request time", "sustained writing"] as const)
      expect(reasonOf(key, "own-limit")).not.toBe(PRIORS["own-limit"].why);
    expect(reasonOf("drive own-limit", "own-limit")).toBe(PRIORS["own-limit"].why);
  });

  it("moves what is likely of a rig, and by no more than it is moved itself", () => {
    const file = JSON.stringify({ condition: "fileSystem" });
    const doubting: Opinion = { ...USUAL_OPINION, priors: { fileSystem: 0.3 } };
    expect(chance(doubting, file)).toBeGreaterThan(2 * chance(USUAL_OPINION, file));
    const trusting: Opinion = { ...USUAL_OPINION, priors: { fileSystem: 0.001 } };
    expect(chance(trusting, file)).toBeLessThan(chance(USUAL_OPINION, file) / 10);
  });

  it("orders steps by what they tell, or by what they tell in a minute", () => {
    const minutes = { cable: 60, fileSystem: 0.1, host: 0.1, transport: 0.1 };
    const first = (fewest: Opinion["fewest"]) =>
      locateBy({ ...USUAL_OPINION, minutes, fewest }).nextSwaps[0]!.text;
    expect(first("steps")).toBe("put K2 in place of K1");
    expect(first("minutes")).not.toBe("put K2 in place of K1");
  });

  it.each<[string, unknown]>([
    ["a share of nothing", { priors: { pairing: 0 } }],
    ["a share of all", { priors: { pairing: 1 } }],
    ["a cause that is none", { priors: { "cable mood": 0.1 } }],
    ["minutes below none", { minutes: { cable: -1 } }],
    ["no number", { minutes: { cable: "two" } }],
    ["another order", { fewest: "clicks" }],
  ])("refuses %s", (_, input) => expect(Opinion.safeParse(input).success).toBe(false));
});

describe("minutes of a tester's own hands", () => {
  const other = { ...slow, id: "other", parts: slow.parts.map((p) => (p === K1 ? K2 : p)) };
  const at = (minute: number) => new Date(Date.UTC(2026, 0, 1, 9, minute)).toISOString();
  /** Runs on two rigs in turns, so many minutes apart; each runs for three seconds. */
  const turns = (apart: number, count: number, more: object = {}) =>
    Array.from({ length: count }, (_, i) =>
      measured(i % 2 ? other : slow, around(400), { createdAt: at(i * apart), ...more }),
    );

  it("are learnt from three changes of a kind on", () => {
    expect(learntMinutes(turns(7, 4))).toEqual({ cable: { minutes: 7, from: 3 } });
    expect(learntMinutes(turns(7, 3))).toEqual({});
  });

  it("count neither pauses nor what nobody's hands did", () => {
    expect(learntMinutes(turns(90, 6))).toEqual({});
    expect(learntMinutes(turns(0, 6))).toEqual({});
    expect(learntMinutes(turns(7, 6, { origin: "simulated" }))).toEqual({});
  });

  it("tell what several changes at once would cost one at a time", () => {
    const both = { ...other, id: "both", fileSystem: "exFAT" };
    const typed: Opinion = { ...USUAL_OPINION, minutes: { cable: 1 } };
    expect(singleChanges([slow], both, typed)).toEqual([
      { what: `cable ${K2.name}`, minutes: 1 },
      { what: "file system", minutes: 15 },
    ]);
    expect(singleChanges([slow, other], both, typed)).toEqual([]);
    expect(singleChanges([], both, typed)).toEqual([]);
  });

  it("stand behind what was typed", () => {
    const learnt = { cable: { minutes: 7, from: 3 }, drive: { minutes: 9, from: 5 } };
    const typed: Opinion = { ...USUAL_OPINION, minutes: { cable: 1 } };
    expect(withLearnt(typed, learnt).minutes).toEqual({ cable: 1, drive: 9 });
  });
});
