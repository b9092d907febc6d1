import { describe, expect, it } from "vitest";
import { usualDrill } from "../../drills/shape";
import { summarise } from "../../stats/repeats";
import { cable, drive, enclosure, port, rig } from "../../testing/rigs";
import { locate } from "../locate";
import { evidenceOn } from "./for-and-against";
import { placeName, tellExplanation, tellNext } from "./sentences";

const P = port();
const [K1, K2] = [cable(undefined, "K1"), cable(undefined, "K2")];
const [B, D] = [enclosure(), drive()];
const one = { ...rig([P, K1, B, D], "one"), fileSystem: "ext4", host: "desk" };
const found = (drill: string, mbps: number) =>
  locate(
    [
      {
        rig: one,
        drill: usualDrill(drill, "read"),
        doubtful: false,
        measurementIds: ["m"],
        repeats: summarise([mbps, mbps * 1.01]),
      },
    ],
    [P, K1, K2, B, D],
  )[0]!;

describe("what is said of a rig as designed", () => {
  const designed = (drill: string, mbps: number) => {
    const located = found(drill, mbps);
    const first = located.explanations.find(({ kind }) => kind === "as-designed")!;
    return {
      text: tellExplanation(first, located),
      name: placeName(first, located),
      evidence: evidenceOn(first, located).for.map(({ text }) => text),
    };
  };

  it("names the link that carries no more", () => {
    const { text, name } = designed("haul", 1010);
    expect(name).toMatch(/^the link to box/);
    expect(text).toContain(name);
  });

  it("names what requests take where they are small: no link's width decides those", () => {
    const { text, name, evidence } = designed("scatter", 210);
    expect(name).not.toMatch(/link/);
    expect(text).toContain(name);
    expect(evidence.join(" ")).toMatch(/foresees of such requests/);
  });
});

describe("the next step in words", () => {
  it("is sentences, each of which begins large and goes on small", () => {
    const located = found("haul", 450);
    const said = tellNext(located.nextSwaps[0]!, located);
    expect(said).toMatch(/^Next: put K2 in place of K1\. At /);
    expect(said).not.toMatch(/; [A-Z]/);
  });
});
