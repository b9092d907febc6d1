import { execFileSync } from "node:child_process";
import fs from "node:fs";
import path from "node:path";
import { unzipSync } from "fflate";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { ROOT } from "../support/command";
import { HERE, measuredIn, measureElsewhere, whyNoProgram } from "../support/elsewhere";

const why = whyNoProgram();
if (why) console.warn(`skipped: the program for macOS (${why})`);

const STAND_IN = path.join(ROOT, "tests/support/macos");

/**
 * The source that goes out for macOS, compiled here against headers that declare what its manual does. No
 * Mac can be had here: what is held is that the source is whole, and what it asks of the system, in which order.
 */
describe.skipIf(why)("the program for macOS", () => {
  let folder: string;
  let program: string;
  beforeAll(() => {
    folder = fs.mkdtempSync(path.join("/dev/shm", "nerrit-macos-"));
    program = path.join(folder, "nerrit-measure");
    const zip = fs.readFileSync(path.join(ROOT, "dist/programs/nerrit-measure-macos.zip"));
    const files: string[] = [];
    for (const [name, bytes] of Object.entries(unzipSync(zip))) {
      const file = path.join(folder, "source", name);
      fs.mkdirSync(path.dirname(file), { recursive: true });
      fs.writeFileSync(file, bytes);
      if (name.endsWith(".c")) files.push(file);
    }
    const warnings = ["-Wall", "-Wextra", "-Werror"];
    const headers = ["-I", STAND_IN, "-include", path.join(STAND_IN, "declared.h")];
    execFileSync("cc", [
      "-O2",
      "-pthread",
      ...warnings,
      ...headers,
      "-o",
      program,
      ...files,
      path.join(STAND_IN, "recorded.c"),
      "-lm",
    ]);
  });
  afterAll(() => fs.rmSync(folder, { recursive: true }));

  const measure = async (name: string, ...args: string[]) => {
    const [calls, out] = ["calls", "jsonl"].map((ending) => path.join(folder, `${name}.${ending}`));
    const target = path.join(folder, name);
    fs.mkdirSync(target);
    const runner = { ...HERE, command: program, env: { NERRIT_CALLS: calls! } };
    const { status, stderr } = await measureElsewhere(runner, [
      ...args,
      "--reserve",
      "1MiB",
      "--target",
      target,
      "--out",
      out!,
    ]);
    expect([status, stderr]).toEqual([0, expect.stringMatching(/Drop this file/)]);
    expect(fs.readdirSync(target)).toEqual([]);
    const lines = fs.readFileSync(calls!, "utf8").trim().split("\n");
    return { calls: lines, measured: measuredIn(out!)[0]! };
  };

  it("goes past the system’s memory before the first request, and has the drive write at the end", async () => {
    const { calls, measured } = await measure("proof", "--drill", "proof", "--span", "2MiB");
    expect(calls).toEqual([
      "F_NOCACHE 1",
      "F_RDAHEAD 0",
      // In one piece, and in several where that does not go.
      "F_PREALLOCATE in one 2097152",
      "F_PREALLOCATE 2097152",
      "pwrite 1048576",
      "F_FULLFSYNC 0",
      "F_NOCACHE 1",
      "pread 1048576",
      "F_FULLFSYNC 0",
      "F_NOCACHE 1",
    ]);
    expect(measured.conditions).toMatchObject({
      kernel: expect.stringMatching(/^macOS 15\.6/),
      processor: "Made-up processor",
      memoryBytes: 2 ** 34,
      fileSystem: "apfs",
      device: "disk4s1",
    });
    expect(measured.conditions!.notes.join(" ")).toMatch(/Not told by this system: .*temperature/);
  });

  it("goes through the system’s memory where that was asked for", async () => {
    const { calls } = await measure(
      "memory",
      "--drill",
      "long-fill",
      "--size",
      "1MiB",
      "--buffered",
    );
    expect(calls.filter((call) => /NOCACHE|RDAHEAD/.test(call))).toEqual([]);
  });

  it("copies past the system’s memory, file by file, and has the drive write once at the end", async () => {
    const { calls, measured } = await measure("copy", "--drill", "ferry", "--mix", "2 x 8192B");
    expect(calls).toEqual([
      // The marker of the run's own folder: the first of the requests, which alone is written down.
      "pwrite 51",
      "F_NOCACHE 1",
      "F_RDAHEAD 0",
      "F_NOCACHE 1",
      "F_RDAHEAD 0",
      "F_FULLFSYNC 0",
    ]);
    expect(measured.runs[0]!.steps[0]).toMatchObject({ bytes: 16384, copy: { files: 2 } });
  });
});
