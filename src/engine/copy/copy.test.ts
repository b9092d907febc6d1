import fs from "node:fs/promises";
import os from "node:os";
import path from "node:path";
import fc from "fast-check";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { Belt, makeBelt, WAITED_FOR_WRITER } from "./belt";
import { filesBelow, filesOfMix } from "./files";

describe("files that are made up", () => {
  const mix = fc.array(
    fc.record({ files: fc.integer({ min: 1, max: 300 }), bytes: fc.integer({ min: 0, max: 1e9 }) }),
    { minLength: 1, maxLength: 6 },
  );

  it("are just those of the mix, each with a name of its own, the same for the same seed", () => {
    fc.assert(
      fc.property(mix, fc.nat(), (entries, seed) => {
        const files = filesOfMix(entries, seed);
        const sizes = entries.flatMap(({ files: n, bytes }) =>
          Array.from({ length: n }, () => bytes),
        );
        expect(files.map(({ bytes }) => bytes).toSorted((a, b) => a - b)).toEqual(
          sizes.toSorted((a, b) => a - b),
        );
        expect(new Set(files.map(({ name }) => name)).size).toBe(files.length);
        expect(filesOfMix(entries, seed)).toEqual(files);
      }),
      { numRuns: 30 },
    );
  });

  it("come with their sizes mixed, and not too many in one folder", () => {
    const files = filesOfMix(
      [
        { files: 300, bytes: 1 },
        { files: 300, bytes: 2 },
      ],
      1,
    );
    const half = files.slice(0, 300).filter(({ bytes }) => bytes === 1).length;
    expect(half).toBeGreaterThan(100);
    expect(half).toBeLessThan(200);
    const folders = new Set(files.map(({ name }) => path.dirname(name)));
    expect(folders.size).toBe(3);
  });
});

describe("files that are found", () => {
  let folder: string;
  beforeEach(async () => {
    folder = await fs.mkdtemp(path.join(os.tmpdir(), "nerrit-files-"));
  });
  afterEach(() => fs.rm(folder, { recursive: true }));

  it("are the plain ones, in order; links are counted and never followed", async () => {
    await fs.mkdir(path.join(folder, "b", "deep"), { recursive: true });
    await fs.writeFile(path.join(folder, "b", "deep", "x"), "12345");
    await fs.writeFile(path.join(folder, "a"), "1");
    await fs.writeFile(path.join(folder, ".nerrit-scratch-mine"), "1");
    await fs.symlink("/etc", path.join(folder, "etc"));
    const { files, passedOver } = await filesBelow(folder, (name) => name.startsWith(".nerrit"));
    expect(files).toEqual([
      { name: "a", bytes: 1 },
      { name: path.join("b", "deep", "x"), bytes: 5 },
    ]);
    expect(passedOver).toBe(1);
  });
});

describe("the belt between the two sides of a copy", () => {
  it("hands blocks over in order, and ends when the reader has", () => {
    const memory = makeBelt(4096);
    const [reader, writer] = [new Belt(memory), new Belt(memory)];
    for (let i = 0; i < 10; i++) {
      reader.free()!.fill(i);
      reader.put(3, 100 + i, i === 9);
    }
    reader.end();
    for (let i = 0; i < 10; i++) {
      const place = writer.take()!;
      expect([place.file, place.bytes, place.last, place.data[7]]).toEqual([
        3,
        100 + i,
        i === 9,
        i,
      ]);
      writer.done();
    }
    expect(writer.take()).toBeNull();
    expect(memory.totals[WAITED_FOR_WRITER]).toBe(0);
  });

  it("lets go of a side that waits when the other failed, and keeps the first failure", () => {
    const memory = makeBelt(4096);
    const [reader, writer] = [new Belt(memory), new Belt(memory)];
    writer.fail("writer", 28);
    reader.fail("reader", 5);
    expect(reader.free()).toBeNull();
    expect(writer.take()).toBeNull();
    expect(reader.failure).toEqual({ side: "writer", number: 28 });
  });

  it("is page-aligned, as direct I/O needs it", () => {
    const { data, block } = makeBelt(65536);
    expect(data.byteLength).toBeGreaterThanOrEqual(16 * block);
    expect(data.byteLength % 65536).toBe(0);
  });
});
