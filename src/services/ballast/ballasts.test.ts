import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { writeEngine } from "../testing/engine";
import { Ballasts } from "./ballasts";

const HALF = { event: "preparing", bytes: 5, total: 10 };
const GONE = { event: "failed", reason: "The drive went away." };

describe("the filling of a drive, by a measuring process that says what is written down for it", () => {
  let folder: string;
  let engine: string;
  let ballasts: Ballasts;
  beforeEach(() => {
    folder = fs.mkdtempSync(path.join(os.tmpdir(), "nerrit-ballasts-"));
    engine = path.join(folder, "engine.mjs");
    ballasts = new Ballasts(folder, engine);
  });
  afterEach(() => fs.rmSync(folder, { recursive: true }));
  const begin = (level = 0.5) => ballasts.begin({ target: folder, level });

  it("tells how far it is, and keeps why it failed in its middle until it is begun again", async () => {
    writeEngine(engine, [HALF, GONE]);
    const told: number[] = [];
    const { ended } = await ballasts.begin({ target: folder, level: 0.5 }, ({ bytes }) =>
      told.push(bytes),
    );
    expect(await ended).toMatchObject({ kind: "failed", left: null });
    expect([told, ballasts.troubleAt(folder)]).toEqual([[5], GONE.reason]);
    writeEngine(engine, [{ event: "done" }]);
    await (
      await begin()
    ).ended;
    expect(ballasts.troubleAt(folder)).toBeNull();
  });

  it("is refused before it is under way, whether by words or by the end of the process", async () => {
    writeEngine(engine, [{ event: "refused", code: "no-space", reason: "Too full." }]);
    await expect(begin()).rejects.toMatchObject({ message: "Too full.", code: "no-space" });
    writeEngine(engine, []);
    await expect(begin()).rejects.toThrow(/ended with status/);
    expect(ballasts.troubleAt(folder)).toBeNull();
  });

  it("is begun once at a time, and refuses levels that make no sense", async () => {
    writeEngine(engine, [HALF], "process.stdin.on('data', () => process.exit(0))");
    const { ended, stop } = await begin();
    // Nothing lies there yet, and it is listed with how far it is all the same.
    expect((await ballasts.list()).filter(({ target }) => target === folder)).toMatchObject([
      { bytes: 0, level: null, doing: { bytes: 5, total: 10 } },
    ]);
    await expect(begin()).rejects.toMatchObject({ status: 409 });
    stop();
    await ended;
    expect(() => ballasts.stop(folder)).toThrow(/No ballast is being made/);
    await expect(begin(1)).rejects.toMatchObject({ status: 422 });
  });
});
