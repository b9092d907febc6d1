import path from "node:path";
import { describe, expect, it } from "vitest";
import { filesWithTexts, sentencesOf, textsIn, wordsOf } from "./texts.mjs";

/** Most words of a sentence. */
const MOST = 25;

/** What was said before, and is not understood at the first reading; with what is said instead. */
const SAID_OTHERWISE: readonly [RegExp, string][] = [
  [/\btak(?:e|en|es|ing)\b(?: (?:it|them|these|this|runs?))? in\b/i, "import"],
  [/\bhold(?:s|ing)?\b.{0,40}\b(?:back|down)\b|\bheld (?:back|down)\b/i, "limits, reduces"],
  [/\bbeware\b/i, "Warning"],
  [/\bnot found out\b/i, "not detected"],
  [/\bconvicts?\b/i, "shows, proves"],
  [/\bnarrows? (?:at|the|to)\b/i, "bottleneck"],
  [/\bonce more\b/i, "repeat"],
  [/\bat hand\b/i, "on the shelf"],
  [/\b(?:0|\d+) of \d+ found\b/i, "open, next: ..."],
  [/\d bits? (?:of information|each)\b|… bits\b/i, "fewest swaps"],
  [/\btake (?:it|this|that|\S+) (?:out|away|off)\b/i, "remove"],
  [/\bweigh(?:ed|s)? anew\b/i, "weigh again"],
  [/\bcosts the rest\b/i, "reduces the rate"],
  [/\bas no system tells\b/i, "Test conditions"],
];

const root = path.join(import.meta.dirname, "..");
const texts = filesWithTexts().flatMap((file) =>
  textsIn(file).map(({ line, text }) => ({ at: `${path.relative(root, file)}:${line}`, text })),
);

describe("every text that somebody reads", () => {
  it("is found: of pages, findings, commands and errors", () => {
    expect(texts.length).toBeGreaterThan(1500);
    for (const folder of [
      "src/ui/",
      "src/app/",
      "src/cli/",
      "src/core/",
      "src/engine/",
      "src/services/",
    ])
      expect(
        texts.some(({ at }) => at.startsWith(folder)),
        folder,
      ).toBe(true);
  });

  it("has sentences of at most 25 words", () => {
    const long = texts.flatMap(({ at, text }) =>
      sentencesOf(text)
        .filter((sentence) => wordsOf(sentence).length > MOST)
        .map((sentence) => `${at} ${sentence}`),
    );
    expect(long).toEqual([]);
  });

  it("says nothing as it was said before", () => {
    const found = texts.flatMap(({ at, text }) =>
      SAID_OTHERWISE.filter(([before]) => before.test(text)).map(
        ([, now]) => `${at} ${text} (say: ${now})`,
      ),
    );
    expect(found).toEqual([]);
  });
});

describe("what is taken for a text", () => {
  const of = (source: string) => textsIn("made.tsx", source).map(({ text }) => text);

  it("is a sentence of an element, with gaps for what stands in between", () => {
    expect(of("const a = <p>Rig {letter} is <b>slow</b> today.</p>;")).toContain(
      "Rig … is … today.",
    );
  });

  it("is a literal or a template of several words, and neither a class nor a path", () => {
    expect(of("const a = `The rig ${name} is slow.`;")).toEqual(["The rig … is slow."]);
    expect(of('const a = <p className="flex gap-2 text-sm" title="What it says">x</p>;')).toEqual([
      "What it says",
    ]);
    expect(of('import a from "some/where now"; const b = "px-2 py-1";')).toEqual([]);
  });
});
