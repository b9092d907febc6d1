import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { parseEventFormat } from "../event-format";
import { CallEvents } from "./points";

/** A trace point as a kernel describes one: fields by name, with where each stands and how long it is. */
const format = (id: number, ...fields: [name: string, offset: number, size: number][]) =>
  parseEventFormat(
    [
      `ID: ${id}`,
      "\tfield:unsigned short common_type;\toffset:0;\tsize:2;\tsigned:0;",
      "\tfield:int common_pid;\toffset:4;\tsize:4;\tsigned:1;",
      ...fields.map(
        ([name, offset, size]) =>
          `\tfield:long ${name};\toffset:${offset};\tsize:${size};\tsigned:1;`,
      ),
    ].join("\n"),
  );
const FORMATS = new Map([
  [
    "syscalls/sys_enter_pread64",
    format(
      1,
      ["__syscall_nr", 8, 4],
      ["fd", 16, 8],
      ["buf", 24, 8],
      ["count", 32, 8],
      ["pos", 40, 8],
    ),
  ],
  ["syscalls/sys_exit_pread64", format(2, ["__syscall_nr", 8, 4], ["ret", 16, 8])],
  ["task/task_newtask", format(3, ["pid", 8, 4], ["clone_flags", 16, 8])],
  ["sched/sched_process_exec", format(4, ["filename", 8, 4], ["pid", 12, 4])],
  ["sched/sched_process_exit", format(5)],
]);
const THREAD = 4711;

/** An event as native/calls-addon.c hands it over. */
function eventOf(ns: number, id: number, length: number, put: (data: Buffer) => void): Buffer {
  const event = Buffer.alloc(16 + Math.ceil(length / 8) * 8);
  event.writeDoubleLE(ns, 0);
  event.writeUInt32LE(length, 8);
  const data = event.subarray(16);
  data.writeUInt16LE(id, 0);
  data.writeInt32LE(THREAD, 4);
  put(data);
  return event;
}

describe("what the kernel tells of calls", () => {
  it("is read where the kernel says that it stands", () => {
    const events = Buffer.concat([
      eventOf(100, 1, 48, (data) => {
        data.writeBigInt64LE(7n, 16);
        data.writeBigInt64LE(0x7fff_1234_5678n, 24);
        data.writeBigInt64LE(4096n, 32);
        data.writeBigInt64LE(2n ** 40n, 40);
      }),
      eventOf(200, 2, 24, (data) => data.writeBigInt64LE(-9n, 16)),
      eventOf(250, 99, 12, () => undefined),
      eventOf(300, 3, 24, (data) => {
        data.writeInt32LE(4712, 8);
        data.writeBigInt64LE(0x400n, 16);
      }),
      eventOf(400, 4, 30, (data) => {
        data.writeUInt32LE((14 << 16) | 16, 8);
        data.write("/usr/bin/make\0", 16);
      }),
      eventOf(500, 5, 8, () => undefined),
    ]);
    const thread = THREAD;
    expect(new CallEvents({ formats: FORMATS }).in(events)).toEqual([
      // Where content lies in memory is nobody's business.
      { ns: 100, thread, what: "enter", call: "pread64", args: [7, 0, 4096, 2 ** 40] },
      { ns: 200, thread, what: "exit", call: "pread64", result: -9 },
      { ns: 300, thread, what: "fork", child: 4712, flags: 0x400 },
      { ns: 400, thread, what: "exec", program: "/usr/bin/make" },
      { ns: 500, thread, what: "ended" },
    ]);
  });

  it("is read from whatever stands there without harm", () => {
    const reader = new CallEvents({ formats: FORMATS });
    const words = fc.array(fc.oneof(fc.integer({ min: 0, max: 6 }), fc.nat(2 ** 32 - 1)), {
      maxLength: 200,
    });
    fc.assert(
      fc.property(words, (all) => {
        const told = reader.in(Buffer.from(Uint32Array.from(all).buffer));
        expect(told.length).toBeLessThanOrEqual(all.length);
      }),
    );
  });
});
