import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { builtNative } from "../testing/built-native";
import { checkPage, isStamped, PAGE } from "./stamp";

/**
 * The compiled lanes against the same in the runtime's own language: what the one writes the other
 * knows. (The measuring process itself, with its workers, is tried on real devices.)
 */
const BLOCK = 16 * PAGE;
const BLOCKS = 64;
const mark = { run: 0xabcdef01, generation: 5 };

const lanes = builtNative();
if (!lanes) console.warn("skipped: the compiled lanes (not built)");

describe.skipIf(!lanes)("the compiled lanes", () => {
  let folder: string;
  let fd: number;
  beforeEach(() => {
    folder = fs.mkdtempSync(path.join(os.tmpdir(), "nerrit-lanes-"));
    fd = fs.openSync(path.join(folder, "medium"), "w+");
    fs.ftruncateSync(fd, BLOCK * BLOCKS);
  });
  afterEach(() => {
    fs.closeSync(fd);
    fs.rmSync(folder, { recursive: true });
  });

  const walk = async (more: object = {}) => {
    const many = "lanes" in more ? (more.lanes as number) : 3;
    const shared = (bytes: number) => new SharedArrayBuffer(bytes);
    const control = new Int32Array(shared(32));
    const totals = new Float64Array(shared(8 * 6 * many));
    const faults = new Float64Array(shared(8 * 300));
    const handle = lanes!.startLanes({
      control,
      totals,
      histograms: new Int32Array(shared(4 * 2 * 4096 * many)),
      faults,
      fds: Int32Array.of(fd),
      buckets: 4096,
      fileBytes: Number.MAX_SAFE_INTEGER,
      block: BLOCK,
      first: 0,
      blocks: BLOCKS,
      random: 0,
      once: 1,
      ring: 0,
      writeShare: 1,
      run: mark.run,
      generation: mark.generation,
      generated: 1,
      checked: 0,
      compressible: 0,
      pool: 4 * BLOCK,
      depth: 3,
      lanes: many,
      seed: 7,
      ...more,
    });
    Atomics.store(control, 0, 2);
    while (Atomics.load(control, 3) < many) await new Promise((resolve) => setTimeout(resolve, 2));
    lanes!.joinLanes(handle);
    const sum = (place: number) =>
      Array.from({ length: many }, (_, i) => totals[6 * i + place]!).reduce((a, b) => a + b, 0);
    const found = Array.from({ length: Math.min(100, control[5]!) }, (_, i) => [
      ...faults.subarray(3 * i, 3 * i + 3),
    ]).toSorted((a, b) => a[1]! - b[1]!);
    return { read: sum(0), written: sum(1), requests: sum(2) + sum(3), error: control[4]!, found };
  };
  const page = (i: number) => {
    const data = Buffer.alloc(PAGE);
    fs.readSync(fd, data, 0, PAGE, i * PAGE);
    return new DataView(data.buffer, data.byteOffset, PAGE);
  };
  const pages = (BLOCK * BLOCKS) / PAGE;

  it.each([0, 1])("write every page as it is to be, and find it so (ring: %i)", async (ring) => {
    const more = ring ? { ring, lanes: 1 } : {};
    const { written, requests, error } = await walk(more);
    expect({ written, requests, error }).toEqual({
      written: BLOCK * BLOCKS,
      requests: BLOCKS,
      error: 0,
    });
    for (let i = 0; i < pages; i++) expect(checkPage(page(i), i * PAGE, mark)).toBe("intact");
    const back = await walk({ ...more, writeShare: 0, checked: 1 });
    expect(back).toMatchObject({ read: BLOCK * BLOCKS, written: 0, found: [] });
  });

  it("find what was changed since, each kind at its place", async () => {
    await walk();
    const write = (data: Uint8Array, i: number) => fs.writeSync(fd, data, 0, PAGE, i * PAGE);
    const take = (i: number) => new Uint8Array(page(i).buffer, page(i).byteOffset, PAGE).slice();
    const [a, b, c] = [take(10), take(200), take(300)];
    c[1000]! ^= 1;
    write(b, 10);
    write(a, 200);
    write(c, 300);
    write(new Uint8Array(PAGE), 400);
    const { found } = await walk({ writeShare: 0, checked: 1 });
    // 1 lost, 3 misdirected, 4 damaged
    expect(found.map(([kind, offset]) => [kind, offset! / PAGE])).toEqual([
      [3, 10],
      [3, 200],
      [4, 300],
      [1, 400],
    ]);
    const stale = await walk({ writeShare: 0, checked: 1, generation: 6 });
    expect(new Set(stale.found.map(([kind]) => kind))).toEqual(new Set([1, 2]));
  });

  it("fill pages that cannot be compressed, stamped, and unlike their neighbours", async () => {
    await walk({ generated: 0, generation: 0 });
    const seen = new Set<string>();
    for (let i = 0; i < pages; i++) {
      expect(isStamped(page(i))).toBe(true);
      seen.add(Buffer.from(page(i).buffer, page(i).byteOffset + 16, 64).toString("hex"));
    }
    // Each lane has a pool of four blocks, and one may have written them all.
    expect(seen.size).toBeGreaterThanOrEqual((4 * BLOCK) / PAGE);
  });

  it("leave as much compressible as is asked", async () => {
    await walk({ generated: 0, compressible: 0.5 });
    const zeros = new Uint8Array(page(9).buffer, page(9).byteOffset, PAGE).filter(
      (byte) => byte === 0,
    );
    expect(zeros.length / PAGE).toBeGreaterThan(0.49);
    expect(zeros.length / PAGE).toBeLessThan(0.52);
  });

  it("mix reading and writing in the share that is asked", async () => {
    await walk();
    const { read, written } = await walk({ writeShare: 0.25, random: 1, blocks: BLOCKS });
    expect(read + written).toBe(BLOCK * BLOCKS);
    expect(written).toBeGreaterThan(0);
    expect(read).toBeGreaterThan(written);
  });

  it("say which error ended them", async () => {
    fs.ftruncateSync(fd, BLOCK);
    expect((await walk({ writeShare: 0 })).error).toBe(5); // beyond the end there is nothing to read
    expect(() => lanes!.startLanes({} as never)).toThrow(/not complete/);
  });
});
