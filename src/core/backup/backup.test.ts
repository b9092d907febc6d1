import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { backupName, BackupKind, fromName, type Backup } from "./backup";
import { needless } from "./retention";

const KEPT = { days: 7, weeks: 4, months: 12 };
const DAY_MS = 86_400e3;
const START = Date.parse("2026-01-01T03:00:00.000Z");
const backup = (kind: BackupKind, ms: number): Backup => {
  const at = new Date(ms).toISOString();
  return { name: backupName(kind, at), kind, at, bytes: 1, contents: null };
};
const daily = (days: number) =>
  Array.from({ length: days }, (_, i) => backup("daily", START + i * DAY_MS));
/** What is there after so many days on each of which a backup is made and the needless ones go. */
const afterDays = (days: number, settings = KEPT): Backup[] => {
  let there: Backup[] = [];
  for (const one of daily(days)) {
    there = [...there, one];
    const gone = new Set(needless(there, settings));
    there = there.filter((kept) => !gone.has(kept));
  }
  return there;
};

describe("a backup's name", () => {
  it("says when and why it was made, and no other file is taken for one", () => {
    fc.assert(
      fc.property(
        fc.constantFrom(...BackupKind.options),
        fc.date({ min: new Date(0), max: new Date("9999-01-01"), noInvalidDate: true }),
        (kind, date) => {
          const at = new Date(Math.floor(date.getTime() / 1e3) * 1e3).toISOString();
          const name = backupName(kind, at);
          expect(fromName(name)).toEqual({ name, kind, at });
        },
      ),
    );
    for (const other of ["nerrit.sqlite", "nerrit-20260101T030000Z-mine.sqlite", "../x", ""])
      expect(fromName(other)).toBeNull();
  });
});

describe("of the daily backups", () => {
  it("the last seven days, four weeks and twelve months stay", () => {
    const there = afterDays(800);
    const days = there.map(({ at }) => (START + 799 * DAY_MS - Date.parse(at)) / DAY_MS);
    for (let i = 0; i < 7; i++) expect(days).toContain(i);
    expect(new Set(there.map(({ at }) => at.slice(0, 7))).size).toBe(12);
    expect(there.length).toBeLessThanOrEqual(7 + 4 + 12);
    expect(Math.max(...days)).toBeGreaterThan(300);
  });

  it("those that are there count, however long Nerrit was not used", () => {
    const [old, ...none] = afterDays(1);
    const much = backup("daily", START + 900 * DAY_MS);
    expect(none).toEqual([]);
    expect(needless([old!, much], KEPT)).toEqual([]);
  });

  it("the latest stays, whatever is asked for, and what was made by hand", () => {
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.constantFrom(...BackupKind.options), fc.nat(2000)), { minLength: 1 }),
        fc.record({ days: fc.nat(9), weeks: fc.nat(9), months: fc.nat(9) }),
        (made, settings) => {
          const all = made.map(([kind, day], i) => backup(kind, START + day * DAY_MS + i * 1e3));
          const gone = needless(all, settings);
          const stays = all.filter((one) => !gone.includes(one));
          expect(gone.filter(({ kind }) => kind === "by-hand")).toEqual([]);
          const latest = all
            .filter(({ kind }) => kind === "daily")
            .map(({ at }) => at)
            .toSorted()
            .at(-1);
          if (latest) expect(stays.map(({ at }) => at)).toContain(latest);
          // What is needless once is so again, and nothing more.
          expect(needless(stays, settings)).toEqual([]);
        },
      ),
    );
  });
});
