import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { fileName } from "./file-name";

describe("names of files", () => {
  it("say what is in them", () => {
    expect(fileName("Which enclosure?", "Serac · K5", "haul read", "2026-11-30")).toBe(
      "which-enclosure_serac-k5_haul-read_2026-11-30",
    );
    expect(fileName("§§§", "")).toBe("nerrit");
    expect(fileName("氷河 ドライブ", "..")).toBe("氷河-ドライブ");
  });

  it("are taken by every system, whatever is in them", () => {
    fc.assert(
      fc.property(fc.array(fc.string({ unit: "binary" }), { maxLength: 4 }), (pieces) => {
        const name = fileName(...pieces);
        expect(name).toMatch(/^[^\s/\\:*?"<>|.-][^\s/\\:*?"<>|]*$/u);
        expect(Buffer.byteLength(name)).toBeLessThan(4 * 41 * 4);
      }),
    );
  });
});
