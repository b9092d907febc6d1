import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import fc from "fast-check";
import { afterAll, describe, expect, it } from "vitest";
import type { Column, ColumnType } from "@/core/archive/column";
import { TABLE_NAMES, TABLES, type Row, type TableName } from "@/core/archive/tables";
import { ask } from "./ask";
import { filesOf, writingFolder } from "./folder";
import { endLeftover, moveIn, stagingFolder } from "./staging";
import { parquetRows } from "./testing/parquet-rows";
import { ArchiveWriter } from "./writer";

const root = fs.mkdtempSync(path.join(os.tmpdir(), "archive-"));
afterAll(() => fs.rmSync(root, { recursive: true, force: true }));
let made = 0;
const folder = () => path.join(root, String(made++));
const HERE = { year: 2026, month: 3, host: "desk" };

const VALUES: Record<ColumnType, fc.Arbitrary<unknown>> = {
  VARCHAR: fc.string({ unit: "binary", maxLength: 20 }),
  "DOUBLE PRECISION": fc.double({ noNaN: true, noDefaultInfinity: true }),
  BIGINT: fc.maxSafeInteger(),
  INTEGER: fc.integer(),
  BOOLEAN: fc.boolean(),
  TIMESTAMP: fc
    .date({ min: new Date("1900-01-01"), max: new Date("2200-01-01"), noInvalidDate: true })
    .map((date) => date.toISOString()),
};

/** Any row of a table, empty wherever it may be. */
const anyRow = (table: TableName): fc.Arbitrary<Record<string, unknown>> =>
  fc.record(
    Object.fromEntries(
      Object.entries<Column>(TABLES[table].columns).map(([name, { type, canBeEmpty }]) => [
        name,
        canBeEmpty ? fc.option(VALUES[type]) : VALUES[type],
      ]),
    ),
  );

/** As another program reads it: whole numbers as BigInt, moments as Date. */
const read = (table: TableName, row: Record<string, unknown>) =>
  Object.fromEntries(
    Object.entries<Column>(TABLES[table].columns).map(([name, { type }]) => {
      const value = row[name];
      if (value === null) return [name, null];
      if (type === "TIMESTAMP") return [name, new Date(value as string)];
      return [name, type === "BIGINT" ? BigInt(value as number) : value];
    }),
  );

async function write(archive: string, rows: [TableName, Record<string, unknown>][], batch = "a") {
  const writer = await ArchiveWriter.open(archive, "writer", batch);
  try {
    for (const [table, row] of rows) writer.put(table, HERE, row as Row<TableName>);
    await writer.finish();
  } finally {
    writer.close();
  }
}

describe("an archive's files", () => {
  it("hold every row of every table as it was written, read by another program", async () => {
    await fc.assert(
      fc.asyncProperty(
        fc
          .constantFrom(...TABLE_NAMES)
          .chain((table) =>
            fc.tuple(fc.constant(table), fc.array(anyRow(table), { minLength: 1, maxLength: 5 })),
          ),
        async ([table, rows]) => {
          // Rows that say the same of the same are written once.
          const { key, version } = TABLES[table];
          const once = [
            ...new Map(
              rows.map((row, i) => [
                version === null ? `${i}` : key.map((k) => row[k]).join(),
                row,
              ]),
            ).values(),
          ];
          const archive = folder();
          await write(archive, [...once.map((row): [TableName, typeof row] => [table, row])]);
          const back = await parquetRows(archive, table);
          expect(back).toEqual(once.map((row) => read(table, row)));
        },
      ),
      { numRuns: 15 },
    );
  });

  it("lie in folders of year, month and host, whatever the host is called", async () => {
    const archive = folder();
    const writer = await ArchiveWriter.open(archive, "writer", "b");
    const [row] = fc.sample(anyRow("samples"), 1) as [Row<"samples">];
    writer.put("samples", { year: 2026, month: 11, host: "lab 2/ä='x" }, row);
    await writer.finish();
    writer.close();
    const [file] = filesOf(archive, "samples");
    expect(path.relative(archive, file!).split(path.sep).slice(0, 3)).toEqual([
      "samples",
      "year=2026",
      "month=11",
    ]);
    const { rows } = await ask([archive], "SELECT host, year, month FROM samples");
    expect(rows).toEqual([["lab 2/ä='x", 2026, 11]]);
  });

  it("are never touched again, and a change makes a row beside the old one", async () => {
    const archive = folder();
    const [study] = fc.sample(anyRow("studies"), 1) as [Row<"studies">];
    const at = (written_at: string, study_version: string) => ({
      ...study,
      written_at,
      study_version,
    });
    await write(archive, [["studies", at("2026-01-01T00:00:00.000Z", "a")]], "a");
    const [first] = filesOf(archive, "studies");
    const before = fs.readFileSync(first!);
    await write(archive, [["studies", at("2026-01-02T00:00:00.000Z", "a")]], "b");
    expect(filesOf(archive, "studies")).toEqual([first]);
    await write(archive, [["studies", at("2026-01-03T00:00:00.000Z", "b")]], "c");
    // As it was once, again: that is a change too.
    await write(archive, [["studies", at("2026-01-04T00:00:00.000Z", "a")]], "d");
    expect(fs.readFileSync(first!)).toEqual(before);
    const { rows } = await ask([archive], "SELECT study_version FROM studies ORDER BY written_at");
    expect(rows).toEqual([["a"], ["b"], ["a"]]);
  });
});

describe("a writer that was killed", () => {
  const laid = async () => {
    const archive = folder();
    await write(archive, []);
    const staging = stagingFolder(archive, "writer");
    for (const table of ["samples", "runs"]) {
      fs.mkdirSync(path.join(staging, table, "year=2026"), { recursive: true });
      fs.writeFileSync(path.join(staging, table, "year=2026", "x.parquet"), table);
    }
    return { archive, staging };
  };

  it("leaves nothing where it had not laid everything ready", async () => {
    const { archive, staging } = await laid();
    endLeftover(archive, "writer");
    expect(fs.existsSync(staging)).toBe(false);
    expect(filesOf(archive, "runs")).toEqual([]);
  });

  it("is finished where it had, wherever in its moves it was killed", async () => {
    for (const moved of [[], ["samples"], ["samples", "runs"]] as const) {
      const { archive, staging } = await laid();
      const files = ["samples", "runs"].map((table) => path.join(table, "year=2026", "x.parquet"));
      fs.writeFileSync(path.join(staging, "moves.json"), JSON.stringify(files));
      for (const table of moved) {
        fs.mkdirSync(path.join(archive, table, "year=2026"), { recursive: true });
        fs.renameSync(
          path.join(staging, table, "year=2026", "x.parquet"),
          path.join(archive, table, "year=2026", "x.parquet"),
        );
      }
      endLeftover(archive, "writer");
      expect(fs.existsSync(staging)).toBe(false);
      for (const table of ["samples", "runs"] as const)
        expect(filesOf(archive, table).map((file) => fs.readFileSync(file, "utf8"))).toEqual([
          table,
        ]);
    }
  });

  it("disturbs no other writer of the same archive", async () => {
    const { archive, staging } = await laid();
    endLeftover(archive, "somebody else");
    expect(fs.readdirSync(writingFolder(archive))).toEqual(["writer"]);
    expect(moveIn(archive, "writer")).toBe(2);
    expect(fs.existsSync(staging)).toBe(false);
  });
});

describe("an archive that cannot be written", () => {
  it("is refused where the folder holds something else, or reads like a table's", async () => {
    const other = folder();
    fs.mkdirSync(other);
    fs.writeFileSync(path.join(other, "notes.txt"), "");
    await expect(write(other, [])).rejects.toThrow(/holds other files/);
    expect(fs.readdirSync(other)).toEqual(["notes.txt"]);
    await expect(write(path.join(root, "host=nas", "a"), [])).rejects.toThrow(/host=nas/);
    await expect(write("/proc/archive", [])).rejects.toThrow(/Nothing can be written/);
  });

  it("is refused where a newer program wrote it, or its label is damaged", async () => {
    const archive = folder();
    await write(archive, []);
    const label = path.join(archive, "archive.json");
    fs.writeFileSync(label, JSON.stringify({ format: "nerrit-archive", version: 2 }));
    await expect(write(archive, [])).rejects.toThrow(/newer version/);
    fs.writeFileSync(label, "{");
    await expect(write(archive, [])).rejects.toThrow(/label is damaged/);
  });
});
