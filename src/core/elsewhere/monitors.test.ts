import { describe, expect, it } from "vitest";
import { decodeLog } from "./decode";
import { readLog } from "./log";
import { traceOf } from "./log-trace";

/** Logs in the forms that the manuals of the systems' own monitors describe, made up here. */

const PERFORMANCE = [
  '"(PDH-CSV 4.0)","\\\\BENCH\\PhysicalDisk(1 E:)\\Disk Read Bytes/sec","\\\\BENCH\\PhysicalDisk(1 E:)\\Disk Write Bytes/sec"',
  '"11/03/2026 10:00:01.120"," "," "',
  '"11/03/2026 10:00:02.121","412000000.250000","4096.000000"',
  '"11/03/2026 10:00:03.119","413000000.000000","0.000000"',
  '"11/03/2026 10:00:04.122","411000000.000000","0.000000"',
];
const ZONED = PERFORMANCE.map((line) =>
  line.replace("(PDH-CSV 4.0)", "(PDH-CSV 4.0) (W. Europe Standard Time)(-60)"),
);
/** What stands round it where a terminal's output was sent into a file. */
const SENT = [
  "",
  ...PERFORMANCE,
  "",
  "Exiting, please wait...",
  "The command completed successfully.",
];

const DISKS = `              disk0               disk4
    KB/t  tps  MB/s     KB/t  tps  MB/s
   31.21   10  0.31    22.00    3  0.07
   12.00    2  0.02   512.00  801 400.50
   12.00    2  0.02   511.20  799 399.00
              disk0               disk4
    KB/t  tps  MB/s     KB/t  tps  MB/s
   12.00    2  0.02   512.00  802 401.00
`;
const MEMORY = `procs -----------memory---------- ---swap-- -----io---- -system-- ------cpu----- -----timestamp-----
 r  b   swpd   free   buff  cache   si   so    bi    bo   in   cs us sy id wa st                 CET
 1  0      0 22183112  14272 1812344    0    0   120    80  210    4  3  1 95  0  0 2026-11-03 10:00:01
 0  1      0 22183112  14272 1812344    0    0 401232    12  910  804  1  3 90  6  0 2026-11-03 10:00:02
 0  1      0 22183112  14272 1812344    0    0 402112     4  910  804  1  3 90  6  0 2026-11-03 10:00:03
 0  1      0 22183112  14272 1812344    0    0 399872     0  910  804  1  3 90  6  0 2026-11-03 10:00:04
`;

const utf16 = (text: string, mark: number[], swapped: boolean): Uint8Array => {
  const signs = new Uint8Array(Uint16Array.from(text, (sign) => sign.charCodeAt(0)).buffer);
  if (swapped) for (let i = 0; i < signs.length; i += 2) signs.subarray(i, i + 2).reverse();
  return Uint8Array.from([...mark, ...signs]);
};
const utf8 = (text: string) => new TextEncoder().encode(text);

/** The rates of a log, MB/s, with no column said otherwise than was guessed. */
function ratesIn(bytes: Uint8Array): number[] {
  const log = readLog(decodeLog(bytes));
  const { samples, problems } = traceOf(log, log.columns);
  expect(problems).toEqual([]);
  return samples.map((one) => Math.round(one.bytes / 1e3 / (one.ms - one.from)));
}

describe("the log of a system’s own monitor is imported with no choice to make", () => {
  const read = [412, 413, 411];
  it.each<[string, Uint8Array, number[]]>([
    ["performance counters", utf8(PERFORMANCE.join("\r\n")), read],
    ["the same with a zone in its head", utf8(ZONED.join("\r\n")), read],
    ["with a mark of UTF-8", utf8(`\uFEFF${PERFORMANCE.join("\r\n")}`), read],
    ["in UTF-16, from a terminal", utf16(SENT.join("\r\n"), [0xff, 0xfe], false), read],
    ["in UTF-16 the other way round", utf16(SENT.join("\r\n"), [0xfe, 0xff], true), read],
    ["in UTF-16 without a mark", utf16(PERFORMANCE.join("\r\n"), [], false), read],
    // 400.5, 399 and 401 times 1024² bytes; the other disk moved less, and the first line is a mean.
    ["two disks a second", utf8(DISKS), [420, 418, 420]],
    ["with decimal commas", utf8(DISKS.replaceAll(".", ",")), [420, 418, 420]],
    ["all drives a second, with times", utf8(MEMORY), [411, 412, 409]],
    ["all drives a second", utf8(MEMORY.replaceAll(/ 2026-11-03 .*/g, "")), [411, 412, 409]],
  ])("%s", (_, bytes, rates) => {
    const found = ratesIn(bytes);
    // The first line of a log begins the time of the next, where times are told.
    expect(found.slice(-2)).toEqual(rates.slice(-2));
    for (const rate of found) expect(rates).toContain(rate);
  });

  it("keeps letters of older programs", () => {
    const text = decodeLog(Uint8Array.from([0x73, 0xfc, 0x64])); // "süd" in Windows-1252
    expect(text).toBe("süd");
  });

  it("takes no other log for one of them", () => {
    const log = readLog("seconds,MB/s\n1,400\n2,401\n3,402\n");
    expect(log.columns.map(({ role }) => role)).toEqual(["time", "rate"]);
  });
});
