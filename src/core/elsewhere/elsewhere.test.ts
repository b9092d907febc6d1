import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { rateOfFigure, readFigure, readNumber, readSeconds, readUnit } from "./figure";
import { readGrid } from "./grid";
import { readLog } from "./log";
import { traceOf } from "./log-trace";

describe("a figure", () => {
  it.each([
    ["452 MB/s", 452],
    ["452 MBps", 452],
    ["430 MiB/s", 450.88768],
    ["3.5 Gb/s", 437.5],
    ["3,5 Gbit/s", 437.5],
    ["1 051,5 MB/s", 1051.5],
    ["1.234,5 MB/s", 1234.5],
    ["1,234.5 MB/s", 1234.5],
    ["0.9 GB/s", 900],
    ["320 GB in 6:40", 800],
    ["320 GB in 400 s", 800],
    ["1 TiB within 1 h 30 min", 203.612],
    ["64 GB in 2m8s", 500],
    ["85k IOPS", 348.16],
    ["85 000 requests/s", 348.16],
  ])("%s is %f MB/s", (text, mbps) => {
    expect(rateOfFigure(readFigure(text)!, 4096)).toBeCloseTo(mbps, 2);
  });

  it.each([
    "",
    "fast",
    "452",
    "-3 MB/s",
    "0 MB/s",
    "320 GB in",
    "320 in 6:40",
    "3 GB in 1:99",
    "4 furlongs/s",
    "1.2.3 MB/s x",
  ])("%j is none", (text) => expect(readFigure(text)).toBeNull());

  it("takes a bare number for the unit of its column", () => {
    expect(readFigure("452", readUnit("MiB/s"))).toEqual({ kind: "rate", mbps: 452 * 1.048576 });
    expect(readFigure("452 MB/s", readUnit("MiB/s"))).toEqual({ kind: "rate", mbps: 452 });
  });

  it("reads every number as it is written in either way", () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 9_999_999 }),
        fc.integer({ min: 0, max: 99 }),
        (whole, cents) => {
          const fraction = String(cents).padStart(2, "0");
          for (const [group, decimal] of [
            [",", "."],
            [".", ","],
            [" ", ","],
            ["’", "."],
          ] as const) {
            const text = String(whole).replace(/\B(?=(\d{3})+$)/g, group);
            expect(readNumber(`${text}${decimal}${fraction}`, decimal)).toBeCloseTo(
              whole + cents / 100,
              6,
            );
          }
        },
      ),
    );
  });

  it.each([
    ["6:40", 400],
    ["1:02:03", 3723],
    ["6 min 40 s", 400],
    ["2 h", 7200],
    ["400", null],
    ["1:60", null],
  ])("%s is %s seconds", (text, seconds) => expect(readSeconds(String(text))).toBe(seconds));
});

describe("a grid from a spreadsheet", () => {
  it("has rigs in rows and drills in columns, with units and the decimal comma", () => {
    const text =
      "Rig\tHaul read (MB/s)\tHaul write\tScatter read, kIOPS\nA\t1.051,5\t998,2\t85,2\nB\t452 MiB/s\t\t–\n";
    const { columns, rows, problems } = readGrid(text);
    expect(problems).toEqual([]);
    expect(columns.map(({ drill, direction }) => [drill, direction])).toEqual([
      ["haul", "read"],
      ["haul", "write"],
      ["scatter", "read"],
    ]);
    const figures = rows.map(({ cells }) => cells.map(({ figure }) => rateOfFigure(figure, 4096)));
    expect(figures[0]!.map((x) => Math.round(x * 10) / 10)).toEqual([1051.5, 998.2, 349]);
    expect(figures[1]).toHaveLength(1);
  });

  it("understands trade words, other separators and parts in columns", () => {
    const { columns, rows, problems } = readGrid(
      "port;cable;enclosure;drive;sequential read;random write;long fill\nrear;K5;Serac;Moraine;1050;12000;900\n",
    );
    expect(problems).toEqual([]);
    expect(columns.map(({ drill, direction }) => `${drill} ${direction}`)).toEqual([
      "haul read",
      "scatter write",
      "long-fill write",
    ]);
    expect(rows[0]!.parts.map(({ kind, name }) => `${kind} ${name}`)).toEqual([
      "host-port rear",
      "cable K5",
      "enclosure Serac",
      "drive Moraine",
    ]);
    expect(rows[0]!.cells[1]!.figure).toEqual({ kind: "iops", iops: 12000 });
  });

  it.each([
    ["4K Q32 read", "scatter", "read", 4096, 32],
    ["4 KiB QD1 write, IOPS", "scatter", "write", 4096, 1],
    ["random, 1 in flight, read", "scatter", "read", null, 1],
    ["random read, one at a time", "scatter", "read", null, 1],
    ["seq 1M q8 read (MB/s)", "haul", "read", 2 ** 20, 8],
    ["read 128 KB", "haul", "read", 131072, null],
    ["RND4K Q8 T4 write", "scatter", "write", 4096, 32],
    ["512 B read", "scatter", "read", 512, null],
    ["Haul read (MB/s)", "haul", "read", null, null],
    ["Scatter read, kIOPS", "scatter", "read", null, null],
    ["write 2000 MB/s class", "haul", "write", null, null],
    ["depth=16 bs=4k random read", "scatter", "read", 4096, 16],
  ])("recognises block and depth in the head %j", (head, drill, direction, block, depth) => {
    const { columns, problems } = readGrid(`Rig\t${head}\nA\t100\n`);
    expect(problems).toEqual([]);
    expect(columns[0]).toMatchObject({ drill, direction, block, depth });
  });

  it("asks where a head says how many but not of what, and takes the tester's word for a column", () => {
    const text = "Rig\tQ32 read\tspeed\nA\t100\t200\n";
    const read = readGrid(text);
    expect(read.problems.map(({ column }) => column)).toEqual([2, 3]);
    expect(read.heads.map(({ of }) => of)).toEqual([null, null]);
    const said = readGrid(text, {
      "2": { drill: "scatter", direction: "read", block: 8192, depth: 32 },
      "3": null,
    });
    expect(said.problems).toEqual([]);
    expect(said.columns).toMatchObject([{ drill: "scatter", block: 8192, depth: 32 }]);
    const odd = readGrid(text, {
      "2": { drill: "ferry", direction: "read", block: null, depth: 8 },
      "3": null,
    });
    expect(odd.problems).toHaveLength(1);
  });

  it("may be a whole ladder, by size or by how many in flight", () => {
    const { ladder, problems } = readGrid(
      "Size;Read (MB/s);Write (MB/s)\n4 KiB;22,5;20\n512 B;3;–\n1M;450;410\n",
    );
    expect(problems).toEqual([]);
    expect(ladder).toMatchObject({ by: "block", directions: ["read", "write"] });
    expect(ladder!.rows.map(({ at, figures }) => [at, Object.keys(figures).length])).toEqual([
      [512, 1],
      [4096, 2],
      [2 ** 20, 2],
    ]);
    const deep = readGrid("QD\tread IOPS\n1\t9000\n2\t17000\n");
    expect(deep.ladder).toMatchObject({ by: "depth", rows: [{ at: 1 }, { at: 2 }] });
    const wrong = readGrid("Size;Read\n4 KiB;22\nlarge;30\n4K;fast\n");
    expect(wrong.problems.map(({ line, column }) => [line, column])).toEqual([
      [3, 1],
      [4, 2],
      [4, 1],
    ]);
  });

  it("names what is wrong by line and column", () => {
    const { problems } = readGrid("Rig\tHaul read\tHaul\tcolour\nA\tfast\t3\tred\n\t12\t\t\n");
    expect(problems.map(({ line, column }) => [line, column])).toEqual([
      [1, 3],
      [1, 4],
      [2, 2],
      [3, 1],
    ]);
    expect(readGrid("nothing").problems).toHaveLength(1);
    expect(readGrid("").problems).toHaveLength(1);
  });
});

const traced = (text: string) => {
  const log = readLog(text);
  return { ...log, ...traceOf(log, log.columns) };
};
const rates = (samples: { from: number; ms: number; bytes: number }[]) =>
  samples.map(({ from, ms, bytes }) => Math.round(bytes / 1e3 / (ms - from)));

describe("a log", () => {
  it("of seconds, rate and temperature", () => {
    const { columns, samples, readings, problems } = traced(
      "seconds,write MB/s,temperature C\n1,800,30\n2,810,31\n3,400,32\n",
    );
    expect(columns.map(({ role }) => role)).toEqual(["time", "write-rate", "celsius"]);
    expect(problems).toEqual([]);
    expect(rates(samples)).toEqual([800, 810, 400]);
    expect(samples.map(({ written, bytes }) => written === bytes)).toEqual([true, true, true]);
    expect(readings.map(({ celsius }) => celsius)).toEqual([30, 31, 32]);
  });

  it("of clock times over midnight, with a decimal comma", () => {
    const { samples, problems } = traced(
      "Zeit clock;read MiB/s\n23:59:59;100,0\n00:00:00;100,5\n00:00:01;99,5\n",
    );
    expect(problems).toEqual([]);
    expect(samples.map(({ ms }) => ms)).toEqual([1000, 2000, 3000]);
    expect(rates(samples)).toEqual([105, 105, 104]);
  });

  it("of counters that begin anew and of one that was reset", () => {
    const near = 2 ** 32 - 5e6;
    const text = [near, 5e6 - 5e6 + 1e6, 11e6, 3e6, 4e6].map((n, i) => `${i}\t${n}`).join("\n");
    const { columns, samples, wraps } = traced(`time s\tbytes written total\n${text}\n`);
    expect(columns[1]!.role).toBe("write-counter");
    expect(wraps).toBe(2);
    expect(samples.map(({ bytes }) => bytes)).toEqual([6e6, 10e6, 1e6]);
  });

  it("of a system monitor in columns of spaces, with names beside", () => {
    const text = [
      "Device            tps    kB_read/s    kB_wrtn/s",
      "sdb            120.00     51200.00         0.00",
      "sdb            121.00     52224.00         0.00",
      "sdb            119.00     51712.00      1024.00",
    ].join("\n");
    const { columns, samples, problems } = traced(text);
    expect(columns.map(({ role }) => role)).toEqual([
      "ignored",
      "ignored",
      "read-rate",
      "write-rate",
    ]);
    expect(problems).toEqual([]);
    expect(rates(samples)).toEqual([51, 52, 53]);
  });

  it("has gaps where lines are missing, never zeros, and names lines that make no sense", () => {
    const { samples, problems } = traced(
      "t,MB/s\n0,100\n1,100\n2,100\n60,100\n61,oops\n62,100\n61,100\n",
    );
    expect(samples.map(({ from, ms }) => ms - from)).toEqual([1000, 1000, 1000, 1000, 1000]);
    expect(samples.at(-2)!.from).toBe(60_000);
    expect(rates(samples)).toEqual([100, 100, 100, 100, 100]);
    expect(problems.map(({ line, column }) => [line, column])).toEqual([
      [6, 2],
      [8, 1],
    ]);
  });

  it("takes epoch milliseconds and sectors", () => {
    const { samples, columns } = traced(
      "timestamp,sectors read\n1764000000000,1000\n1764000001000,3000\n1764000002000,5000\n",
    );
    expect(columns.map(({ role }) => role)).toEqual(["time", "read-counter"]);
    expect(samples.map(({ bytes }) => bytes)).toEqual([1024000, 1024000]);
  });

  it("of four lines a second on a clock of whole seconds loses none of its bytes, by bytes and by counter", () => {
    // Begins in the middle of a second, and ends in one.
    const lines = Array.from({ length: 402 }, (_, i) => i + 2);
    const clock = (i: number) => new Date(Math.floor(i / 4) * 1e3).toISOString().slice(11, 19);
    const byBytes = traced(
      `clock,bytes written\n${lines.map((i) => `${clock(i)},${1e7 + (i % 3)}`).join("\n")}`,
    );
    const total = lines.reduce((sum, i) => sum + 1e7 + (i % 3), 0);
    expect(byBytes.samples.reduce((sum, { bytes }) => sum + bytes, 0)).toBe(total);
    expect(byBytes.spread).toBeGreaterThan(290);
    expect(new Set(rates(byBytes.samples))).toEqual(new Set([40]));
    const byCounter = traced(
      `clock,total bytes written\n${lines.map((i) => `${clock(i)},${i * 1e7}`).join("\n")}`,
    );
    expect(byCounter.samples.reduce((sum, { bytes }) => sum + bytes, 0)).toBe(401 * 1e7);
    expect(new Set(rates(byCounter.samples))).toEqual(new Set([40]));
  });

  it("with dates tells day-first from month-first by all of its lines, and asks where both fit", () => {
    const dated = (...days: string[]) => {
      const lines = days.map((day, i) => `${day} 10:00:0${i % 10} AM,${100 + i}`);
      return readLog(`when,MB/s\n${lines.join("\n")}\n`);
    };
    const seconds = (log: ReturnType<typeof dated>) => {
      const { samples, problems } = traceOf(log, log.columns);
      return { problems, ms: samples.map(({ ms, from }) => ms - from), end: samples.at(-1)?.ms };
    };
    // One day: the order does not matter. A day above twelve tells it.
    expect(seconds(dated("11/12/2026", "11/12/2026", "11/12/2026")).end).toBe(3000);
    expect(seconds(dated("11/29/2026", "11/29/2026", "11/30/2026")).problems).toEqual([]);
    expect(seconds(dated("29.11.2026", "29.11.2026", "30.11.2026")).end).toBe(
      seconds(dated("11/29/2026", "11/29/2026", "11/30/2026")).end,
    );
    // Lines that follow each other are a day apart, not a month: by that it is told too.
    expect(seconds(dated("03/04/2026", "04/04/2026", "05/04/2026")).problems).toEqual([]);
    // With days missing, both fit.
    const open = dated("03/04/2026", "05/04/2026", "05/07/2026");
    expect(seconds(open).problems[0]).toMatchObject({ line: 2, column: 1 });
    const said = (role: "time-day-first" | "time-month-first") => {
      const columns = open.columns.map((one, i) => (i === 0 ? { ...one, role } : one));
      return traceOf(open, columns).samples.at(-1)!.ms;
    };
    expect(said("time-day-first")).not.toBe(said("time-month-first"));
  });

  it("with points in its dates has decimals all the same, by points or by commas", () => {
    const points = traced("time,MB/s\n30.11.2026 10:00:01,100.5\n30.11.2026 10:00:02,101.25\n");
    const commas = traced("time;MB/s\n30.11.2026 10:00:01;100,5\n30.11.2026 10:00:02;101,25\n");
    expect(points.problems).toEqual([]);
    const megabytes = (of: typeof points) => of.samples.map(({ bytes }) => bytes / 1e6);
    expect(megabytes(points)).toEqual([100.5, 101.25]);
    expect(megabytes(commas)).toEqual([100.5, 101.25]);
  });

  it("without a time says that each line counts as a second", () => {
    expect(traced("MB/s\n100\n101\n102\n").untimed).toBe(true);
    expect(traced("s,MB/s\n1,100\n2,101\n3,102\n").untimed).toBe(false);
  });

  it("with numbers beyond all bounds names their lines, and takes nothing of them in", () => {
    const log = readLog(
      "s,bytes\n1,100\n2,90\n3,900000000000000000000\n4,80\n9e9,1\n90000000000,5\n",
    );
    const { problems, samples } = traceOf(log, log.columns);
    expect(problems.map(({ line }) => line)).toEqual([4, 6, 7]);
    const scaled = log.columns.map((one) => (one.column === 2 ? { ...one, scale: 1e15 } : one));
    expect(traceOf(log, scaled).samples).toEqual([]);
    expect(samples.length).toBe(3);
  });

  it("is refused where there is nothing in it", () => {
    expect(() => readLog("")).toThrow(/numbers/);
    expect(() => readLog("hello world\nhow are you")).toThrow(/numbers/);
    expect(() => readLog("a,b\n1,2\n")).toThrow(/several/);
  });

  it("is read the same whatever its columns are called, once they are said", () => {
    const log = readLog("a,b\n0,5\n1,6\n2,5\n");
    const columns = log.columns.map((one, i) => ({
      ...one,
      role: i ? ("rate" as const) : ("time" as const),
      scale: 1,
    }));
    expect(rates(traceOf(log, columns).samples)).toEqual([5, 6, 5]);
  });
});
