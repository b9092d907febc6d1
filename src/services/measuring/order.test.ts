import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import type { KnownCache } from "@/core/drills/parameter";
import { usualDrill } from "@/core/drills/shape";
import { MeasureRequest } from "@/core/drills/request";
import { openStore, type Store } from "@/store/database";
import { lookAtTarget, orderFor } from "./order";
import { dropDrill, keepDrill, ownDrills } from "./own-drills";

let folder: string;
let store: Store;
beforeEach(() => {
  folder = fs.mkdtempSync(path.join(os.tmpdir(), "nerrit-order-"));
  store = openStore(folder);
});
afterEach(() => {
  store.$client.close();
  fs.rmSync(folder, { recursive: true });
});

const order = (more: object, cache: KnownCache | null = null) =>
  orderFor(MeasureRequest.parse({ rigId: "r", target: folder, reserve: 0, ...more }), cache);

describe("an order", () => {
  it("is completed from what is there, and from the write cache that was stated", async () => {
    const { drill, places, program } = await order(
      { drill: "haul", direction: "write" },
      { bytes: 3 * 2 ** 20, from: "stated" },
    );
    expect(drill).toMatchObject({ name: "haul", direction: "write", repeats: 3, block: 2 ** 19 });
    expect(places).toEqual([{ host: null, path: folder }]);
    expect(program).toHaveLength(1);
    const room = (await lookAtTarget(store, new URLSearchParams({ path: folder, reserve: "0" })))!
      .room;
    // Half of the room, which other programs change meanwhile.
    const { size } = (await order({ drill: "long-fill", share: 0.5 })).drill;
    expect(Number(size) / room).toBeGreaterThan(0.3);
    expect(Number(size) / room).toBeLessThan(0.7);
  });

  it.each([
    [{ drill: "sprint" }, /name: /],
    [{ drill: "haul", direction: "mixed" }, /direction: /],
    [{ drill: "haul", block: 513 }, /block: must be a multiple of 512/],
    [{ drill: "haul", block: 2 ** 22, span: 2 ** 20 }, /span: must be at least one block/],
    [{ drill: "haul", sideways: 1 }, /sideways: is nothing that can be set of Haul/],
    [{ drill: "haul", repeats: 0 }, /repeats: must be at least 1/],
    [{ drill: "haul", more: ["/mnt/b"] }, /more: Haul is done on one drive/],
    [{ drill: "haul", other: "/mnt/b" }, /other: Haul has no other end/],
    [{ drill: "ferry", other: "lab2:/mnt/b" }, /other: is on another machine/],
    [{ drill: "convoy" }, /more: Convoy needs at least two drives/],
  ])("%j is refused with the field that is wrong", async (more, words) => {
    await expect(order(more)).rejects.toMatchObject({
      status: 422,
      message: expect.stringMatching(words),
    });
  });

  it("of a Convoy goes to each drive once", async () => {
    const twice = order({ drill: "convoy", more: [folder] });
    await expect(twice).rejects.toThrow(/same place twice/);
    expect((await order({ drill: "convoy", more: ["/mnt/b/", "lab2:/mnt/b"] })).places).toEqual([
      { host: null, path: folder },
      { host: null, path: "/mnt/b" },
      { host: "lab2", path: "/mnt/b" },
    ]);
  });
});

describe("what is known of a place", () => {
  it("is its room and its smallest request, or nothing where there is no such place", async () => {
    const facts = await lookAtTarget(store, new URLSearchParams({ path: folder }));
    expect(facts).toMatchObject({ kind: "directory", room: expect.any(Number) });
    expect(await lookAtTarget(store, new URLSearchParams({ path: "/no/such/place" }))).toBeNull();
    await expect(
      lookAtTarget(store, new URLSearchParams({ path: "relative" })),
    ).rejects.toMatchObject({
      status: 422,
    });
    await expect(lookAtTarget(store, new URLSearchParams({}))).rejects.toMatchObject({
      status: 422,
    });
  });
});

describe("drills of the tester's own", () => {
  const own = {
    name: "stride-ladder",
    direction: "read",
    title: "Three rungs",
    blocks: [4096, 8192, 65536],
  };

  it("are kept by a name, whole, and can be taken off the list", () => {
    const id = keepDrill(store, own);
    const [kept] = ownDrills(store);
    expect(kept).toMatchObject({ id, drill: own });
    expect(kept!.drill.depth).toBe(usualDrill("stride-ladder", "read").depth);
    dropDrill(store, id);
    expect(ownDrills(store)).toEqual([]);
    expect(() => dropDrill(store, id)).toThrow(/no such drill/);
  });

  it.each([
    [{ ...own, title: "" }, /title: give the drill a name/],
    [{ ...own, name: "sprint" }, /name: /],
    [{ ...own, blocks: [3] }, /blocks/],
    [null, /request|object/],
  ])("%j is refused", (input, words) => {
    expect(() => keepDrill(store, input)).toThrow(words);
    expect(ownDrills(store)).toEqual([]);
  });

  it("have names of their own", () => {
    keepDrill(store, own);
    expect(() => keepDrill(store, { ...own, direction: "write" })).toThrow(/already/);
  });
});
