import { describe, expect, it } from "vitest";
import { absolutePath, asLine, asLines, line, lines } from "./text";

describe("a line of text", () => {
  it("is kept as it was typed, in any script, without the space around it", () => {
    for (const text of ["K5", "Gehäuse №3", "كابل أزرق", "כבל 2", "線 – 2 m", "👩‍🔧 bench"])
      expect(line(40).parse(`  ${text} `)).toBe(text);
  });

  it("loses the signs that would turn round what stands beside it, which nobody sees", () => {
    expect(line(40).parse("K5 \u202egpj.exe")).toBe("K5 gpj.exe");
    expect(lines(40).parse("one\u2067\ntwo\u2069")).toBe("one\ntwo");
    // What belongs to a script stays.
    expect(line(40).parse("א\u200fב")).toBe("א\u200fב");
  });

  it.each(["a\u0000b", "a\u001bb", "a\u009fb", "a\nb", "a\tb", "\ud800"])(
    "is refused with control characters or half of one: %j",
    (text) => {
      expect(line(40).safeParse(text).success).toBe(false);
      expect(asLine(text)).not.toBe(text);
      expect(line(40).safeParse(asLine(text)).success).toBe(true);
    },
  );

  it("has an end, and text of several lines keeps its lines", () => {
    expect(line(3).safeParse("four").error!.issues[0]!.message).toBe("at most 3 characters");
    expect(lines(9).parse("a\n\tb")).toBe("a\n\tb");
    expect(lines(9).safeParse("a\u0007").success).toBe(false);
    expect(asLines("a\u0007\n\u202eb")).toBe("a\nb");
  });
});

describe("a path", () => {
  it("begins at the root, and is told from what is none", () => {
    const path = absolutePath("say where");
    expect(path.parse(" /mnt/disk ")).toBe("/mnt/disk");
    const wrong = (text: string) => path.safeParse(text).error!.issues[0]!.message;
    expect(wrong("")).toBe("say where");
    expect(wrong("mnt")).toMatch(/absolute path/);
    expect(wrong(`/${"x".repeat(5000)}`)).toMatch(/longer than any path/);
    expect(wrong("/a\u0000b")).toMatch(/control characters/);
  });
});
