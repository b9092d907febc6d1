import fs from "node:fs";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { nerrit } from "../support/command";
import { makeFaulty, whyNoFaults, type FaultyDirectory } from "../support/faulty-fs";

const why = whyNoFaults();
if (why) console.warn(`skipped: Proof against faults (${why})`);

const PAGE = 4096;
const MIB = 2 ** 20;

describe.skipIf(why)("Proof on a file system that commits faults", () => {
  let faulty: FaultyDirectory;
  beforeEach(async () => {
    faulty = await makeFaulty();
  });
  afterEach(() => faulty.remove());

  const proof = async (env: Record<string, string> = {}) => {
    const before = { ...process.env };
    Object.assign(process.env, env);
    const { status, stdout, stderr } = await nerrit([
      "measure",
      "--target",
      faulty.directory,
      "--drill",
      "proof",
      "--span",
      "32MiB",
      "--reserve",
      "0B",
      "--json",
    ]);
    process.env = before;
    expect(stderr).toBe("");
    expect(status).toBe(0);
    return JSON.parse(stdout) as {
      checkedBytes: number;
      faults: { kind: string; offset: number; bytes: number }[];
    };
  };

  it("reports none where there is none, and leaves nothing behind", async () => {
    const { checkedBytes, faults } = await proof();
    expect(faults).toEqual([]);
    expect(checkedBytes).toBe(2 * 32 * MIB);
    expect(fs.readdirSync(faulty.directory)).toEqual([]);
  });

  it.each(["", "portable"])("finds each kind at its place (lanes: %s)", async (lane) => {
    faulty.commit(
      `lose ${3 * MIB} ${2 * PAGE}`,
      `stale ${9 * MIB + PAGE} ${PAGE}`,
      `swap ${12 * MIB} ${20 * MIB + 5 * PAGE}`,
      `flip ${25 * MIB + 1234}`,
    );
    const { faults } = await proof({ NERRIT_LANE: lane });
    expect(faults).toEqual([
      { kind: "lost", offset: 3 * MIB, bytes: 2 * PAGE },
      { kind: "stale", offset: 9 * MIB + PAGE, bytes: PAGE },
      { kind: "misdirected", offset: 12 * MIB, bytes: PAGE },
      { kind: "misdirected", offset: 20 * MIB + 5 * PAGE, bytes: PAGE },
      { kind: "damaged", offset: 25 * MIB, bytes: PAGE },
    ]);
  });

  it("finds every one of many flipped bits", async () => {
    // Spread by a step that meets the stamp, the data and the last byte of pages.
    const places = Array.from({ length: 60 }, (_, i) => i * 500_001 + (i % PAGE));
    faulty.commit(...places.map((place) => `flip ${place}`));
    const { faults } = await proof();
    const hit = new Set(places.map((place) => Math.floor(place / PAGE)));
    const found = new Set(
      faults.flatMap(({ kind, offset, bytes }) => {
        expect(kind).toBe("damaged");
        return Array.from({ length: bytes / PAGE }, (_, i) => offset / PAGE + i);
      }),
    );
    expect(found).toEqual(hit);
  });

  it("says in plain words on a terminal what it found", async () => {
    faulty.commit(`lose ${MIB} ${PAGE}`);
    const { stdout } = await nerrit([
      "measure",
      "--target",
      faulty.directory,
      "--drill",
      "proof",
      "--span",
      "8MiB",
      "--reserve",
      "0B",
    ]);
    expect(stdout).toMatch(/1 fault/);
    expect(stdout).toMatch(/lost +1.048.576 +4.096/);
    expect(Math.max(...stdout.split("\n").map((line) => line.length))).toBeLessThanOrEqual(80);
  });
});
