import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { requestsOf } from "@/core/recording/request";
import { CallRecorder } from "./call-recorder";
import type { Call, Told } from "./points";

const [APPEND, CLOEXEC] = [0o2000, 0o2000000];
const CLONE_FILES = 0x400;
const MIB = 2 ** 20;
const FIRST = 100;

/** A computer on which programs call, in the order in which they are told to. Times in microseconds. */
class Computer {
  private us = 0;
  readonly recorder = new CallRecorder("/share", FIRST);

  private tell(told: Omit<Told, "ns">): void {
    this.recorder.tell({ ...told, ns: ++this.us * 1000 } as Told);
  }
  call(thread: number, call: Call, args: number[], result = 0): void {
    this.tell({ what: "enter", thread, call, args } as Told);
    this.tell({ what: "exit", thread, call, result } as Told);
  }
  open(thread: number, path: string, fd: number, flags = 0, bytes = 0): void {
    this.tell({ what: "enter", thread, call: "openat", args: [-100, 0, flags] } as Told);
    // The kernel notes what is opened on one mount, wherever in it.
    if (!path.startsWith("/other"))
      this.recorder.opened([{ thread, path, bytes, ns: ++this.us * 1000 }]);
    this.tell({ what: "exit", thread, call: "openat", result: fd } as Told);
  }
  fork(thread: number, child: number, flags = 0): void {
    this.tell({ what: "fork", thread, child, flags } as Told);
  }
  exec(thread: number, program: string): void {
    this.tell({ what: "exec", thread, program } as Told);
  }
  begin(thread: number, call: Call, args: number[]): void {
    this.tell({ what: "enter", thread, call, args } as Told);
  }
  end(thread: number, call: Call, result: number): void {
    this.tell({ what: "exit", thread, call, result } as Told);
  }

  taken(all = true) {
    const rows = this.recorder.take(all);
    // As if its nanoseconds were what a recording counts by.
    return requestsOf(rows).map(({ kind, offset, bytes, program }) => ({
      what: `${kind} ${offset % 2 ** 37} ${bytes}`,
      file: Math.floor(offset / 2 ** 37),
      program: this.recorder.names[program],
    }));
  }
}
const whats = (computer: Computer) => computer.taken().map(({ what }) => what);

describe("calls on files of a folder", () => {
  it("go on from where the last one ended, or are where they say", () => {
    const computer = new Computer();
    computer.open(FIRST, "/share/a", 3);
    computer.call(FIRST, "read", [3, 0, 4096], 4096);
    computer.call(FIRST, "read", [3, 0, 8192], 4096);
    computer.call(FIRST, "pread64", [3, 0, 4096, MIB], 4096);
    computer.call(FIRST, "lseek", [3, 0, 0], 65536);
    computer.call(FIRST, "writev", [3, 0, 2], 512);
    computer.call(FIRST, "preadv2", [3, 0, 1, -1], 512);
    computer.call(FIRST, "fsync", [3]);
    expect(whats(computer)).toEqual([
      "read 0 4096",
      "read 4096 4096",
      `read ${MIB} 4096`,
      "write 65536 512",
      "read 66048 512",
      "flush 0 0",
    ]);
  });

  it("of other folders and of what is no file, ends of files, and calls that fail are left out", () => {
    const computer = new Computer();
    computer.open(FIRST, "/other/a", 3);
    computer.open(FIRST, "/shared/a", 4);
    computer.open(FIRST, "/share/a", 5);
    for (const fd of [0, 3, 4]) computer.call(FIRST, "read", [fd, 0, 4096], 4096);
    computer.call(FIRST, "read", [5, 0, 4096], 0);
    computer.call(FIRST, "read", [5, 0, 4096], -5);
    computer.call(FIRST, "close", [5]);
    computer.call(FIRST, "read", [5, 0, 4096], 4096);
    expect(computer.taken()).toEqual([]);
  });

  it("append at the end that a file has then", () => {
    const computer = new Computer();
    computer.open(FIRST, "/share/log", 3, APPEND, 10_240);
    computer.call(FIRST, "write", [3, 0, 512], 512);
    computer.open(FIRST, "/share/log", 4, 0, 10_752);
    computer.call(FIRST, "pwrite64", [4, 0, 512, 20_480], 512);
    computer.call(FIRST, "write", [3, 0, 512], 512);
    expect(whats(computer)).toEqual(["write 10240 512", "write 20480 512", "write 20992 512"]);
  });

  it("belong to the same file by whichever number, and to each process its own numbers", () => {
    const computer = new Computer();
    computer.open(FIRST, "/share/a", 3, CLOEXEC);
    computer.call(FIRST, "dup2", [3, 1], 1);
    computer.call(FIRST, "fcntl", [3, 0, 10], 10);
    computer.fork(FIRST, 200);
    computer.exec(200, "/usr/bin/sort");
    computer.call(FIRST, "close", [1]);
    // The position is shared: sort writes on from where its parent stood.
    computer.call(FIRST, "write", [10, 0, 512], 512);
    computer.call(200, "write", [1, 0, 512], 512);
    computer.call(200, "write", [3, 0, 512], 512);
    computer.call(FIRST, "write", [1, 0, 512], 512);
    expect(computer.taken()).toEqual([
      { what: "write 0 512", file: 0, program: "sh" },
      { what: "write 512 512", file: 0, program: "sort" },
    ]);
  });

  it("of threads share their numbers, those of processes do not", () => {
    for (const flags of [CLONE_FILES, 0]) {
      const computer = new Computer();
      computer.fork(FIRST, 101, flags);
      computer.open(101, "/share/a", 3);
      computer.call(FIRST, "read", [3, 0, 512], 512);
      expect(computer.taken()).toHaveLength(flags === 0 ? 0 : 1);
    }
  });

  it("that copy within the system are a read and a write, told in parts where they are long", () => {
    const computer = new Computer();
    computer.open(FIRST, "/share/a", 3);
    computer.open(FIRST, "/share/b", 4);
    computer.call(FIRST, "copy_file_range", [3, 0, 4, 0], 40 * MIB);
    const taken = computer.taken();
    const moved = (kind: string) =>
      taken.filter(({ what }) => what.startsWith(kind)).map(({ what, file }) => `${file} ${what}`);
    expect(moved("read")).toEqual([
      `0 read 0 ${16 * MIB}`,
      `0 read ${16 * MIB} ${16 * MIB}`,
      `0 read ${32 * MIB} ${8 * MIB}`,
    ]);
    expect(moved("write").map((one) => one.replace("1 write", "0 read"))).toEqual(moved("read"));
  });

  it("count files that are mapped into memory, and whose opening was refused are none", () => {
    const computer = new Computer();
    computer.open(FIRST, "/share/a", -13);
    computer.call(FIRST, "read", [3, 0, 512], 512);
    computer.open(FIRST, "/share/b", 3);
    computer.call(FIRST, "mmap", [0, 4096, 1, 2, 3, 0], 1);
    computer.call(FIRST, "mmap", [0, 4096, 1, 2, 9, 0], 1);
    expect(computer.taken()).toEqual([]);
    expect(computer.recorder.mappedFiles).toBe(1);
  });

  it("are of whoever opened the file, though it is known only then that it was begun by the work", () => {
    const recorder = new CallRecorder("/share", FIRST);
    const tell = (one: object) => recorder.tell(one as Told);
    const opened = (thread: number, ns: number) =>
      recorder.opened([{ thread, ns, path: "/share/a", bytes: 0 }]);
    // Another program on the mount, and a child of which is told later than of what it opened.
    opened(900, 50);
    opened(200, 150);
    recorder.forgetOthers(100);
    tell({ what: "fork", thread: FIRST, child: 200, flags: 0, ns: 110 });
    tell({ what: "fork", thread: FIRST, child: 900, flags: 0, ns: 111 });
    for (const [thread, ns] of [
      [200, 140],
      [900, 40],
    ] as const) {
      tell({ what: "enter", thread, call: "openat", args: [-100, 0, 0], ns });
      tell({ what: "exit", thread, call: "openat", result: 3, ns: ns + 20 });
      tell({ what: "enter", thread, call: "read", args: [3, 0, 512], ns: ns + 30 });
      tell({ what: "exit", thread, call: "read", result: 512, ns: ns + 40 });
    }
    expect(recorder.take(true)).toHaveLength(6);
  });

  it("come in the order in which they began, and wait for what began before them", () => {
    const computer = new Computer();
    computer.fork(FIRST, 101, CLONE_FILES);
    computer.open(FIRST, "/share/a", 3);
    computer.begin(101, "pread64", [3, 0, 512, 8192]);
    computer.call(FIRST, "pread64", [3, 0, 512, 0], 512);
    expect(computer.taken(false)).toEqual([]);
    computer.end(101, "pread64", 512);
    expect(computer.taken(false).map(({ what }) => what)).toEqual(["read 8192 512", "read 0 512"]);
  });

  it("stand whatever comes, and give no row beyond a recording's bounds", () => {
    const calls = [
      "read",
      "pwrite64",
      "openat",
      "close",
      "dup2",
      "lseek",
      "mmap",
      "clone",
    ] as const;
    const number = fc.oneof(fc.integer({ min: -2, max: 6 }), fc.maxSafeInteger());
    const thread = fc.constantFrom(FIRST, 101, 102);
    const told = fc.oneof(
      fc.record({
        what: fc.constant("enter"),
        thread,
        call: fc.constantFrom(...calls),
        args: fc.array(number, { maxLength: 6 }),
      }),
      fc.record({
        what: fc.constant("exit"),
        thread,
        call: fc.constantFrom(...calls),
        result: fc.integer({ min: -9, max: 2 ** 31 - 1 }),
      }),
      fc.record({
        what: fc.constant("fork"),
        thread,
        child: fc.constantFrom(101, 102),
        flags: fc.constantFrom(0, CLONE_FILES),
      }),
      fc.record({ what: fc.constant("ended"), thread }),
    );
    fc.assert(
      fc.property(fc.array(told, { maxLength: 60 }), (all) => {
        const computer = new Computer();
        computer.open(FIRST, "/share/a", 3);
        all.forEach((one, i) => computer.recorder.tell({ ...one, ns: 1e6 + i } as Told));
        for (const value of computer.recorder.take(true))
          expect(Number.isSafeInteger(Math.floor(value)) && value >= 0).toBe(true);
      }),
    );
  });
});
