import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { leastTrip } from "./clock";
import { FACTS_QUESTION, readFacts, type HostFacts } from "./host-facts";
import { HostName } from "../units/host-name";
import { placeFrom } from "../units/place";
import { spaceIn } from "./space";
import { lacksOf, measuredBy, type MeasuredBy } from "./lacks";

describe("a host's name", () => {
  it.each(["lab2", "me@10.0.0.7", "fe80::1%eth0", "me@::1", "über-rechner", "a.b-c_d"])(
    "can be %s",
    (name) => expect(HostName.parse(name)).toBe(name),
  );

  it.each([
    "",
    "-oProxyCommand=x",
    "me@-oProxyCommand=x",
    "-l@lab2",
    "a b",
    "a'b",
    'a"b',
    "a;b",
    "a$(b)",
    "a`b`",
    "a\nb",
    "a/b",
    "a:22",
    "@lab2",
    "me@",
    "x".repeat(256),
  ])("cannot be %j", (name) => expect(HostName.safeParse(name).success).toBe(false));

  it("never begins with what an option begins with, nor holds what a shell reads", () => {
    fc.assert(
      fc.property(fc.string(), (text) => {
        const name = HostName.safeParse(text);
        if (name.success) expect(name.data).not.toMatch(/^-|@-|[\s'"`$;&|<>(){}\\!*?[\]#~]/);
      }),
    );
  });

  it("stands before a place on it, and a path of one's own has none", () => {
    expect(placeFrom("lab2:/media/drive")).toEqual({ host: "lab2", path: "/media/drive" });
    expect(placeFrom("me@fe80::1:/a b")).toEqual({ host: "me@fe80::1", path: "/a b" });
    for (const own of ["/media/a:/b", "media", "./a:/b", "-x:/a"])
      expect(placeFrom(own)).toEqual({ host: null, path: own });
  });
});

const SAID = [
  "name attic",
  "system Linux",
  "release 5.10.0",
  "architecture armv7l",
  "processor ARMv7 Processor rev 4 (v7l)",
  "cores 4",
  "memory 1013 kB",
  "node v18.19.0 /usr/bin/node",
  "node v20.20.2 /opt/node 20/bin/node",
  "node garbage /usr/bin/other",
  "cache /home/me/.cache/nerrit",
  "room /dev/mmc blk 1000 400 600 40% /home/my drive",
  "kept engine-0123456789abcdef",
];

describe("what a host says of itself", () => {
  it("is read, the newest runtime first", () => {
    expect(readFacts(SAID)).toEqual({
      name: "attic",
      system: "Linux",
      release: "5.10.0",
      architecture: "armv7l",
      processor: "ARMv7 Processor rev 4 (v7l)",
      cores: 4,
      memoryBytes: 1013 * 1024,
      node: { version: "v20.20.2", path: "/opt/node 20/bin/node" },
      compiler: null,
      cache: {
        folder: "/home/me/.cache/nerrit",
        freeBytes: 600 * 1024,
        kept: ["engine-0123456789abcdef"],
      },
    });
  });

  it("may be anything, and nothing is made up of it", () => {
    fc.assert(
      fc.property(fc.array(fc.string()), (lines) => {
        const { cores, memoryBytes, cache } = readFacts(lines);
        for (const number of [cores, memoryBytes, cache?.freeBytes ?? null])
          if (number !== null) expect(number).toBeGreaterThan(0);
      }),
    );
    expect(readFacts([])).toMatchObject({ node: null, cache: null, cores: null, compiler: null });
  });

  it("is asked for in words that any shell hands on as they are", () => {
    expect(FACTS_QUESTION).not.toMatch(/['\n!\\]/);
  });
});

describe("a host's clock", () => {
  it("is judged by the quickest answer, and is as wrong as half of that", () => {
    const trips = [
      { sent: 0, back: 90, said: "5.500000000" },
      { sent: 100, back: 104, said: "5.102500000" },
    ];
    expect(leastTrip(trips)).toEqual({
      clock: { aheadMs: expect.closeTo(5000.5, 3), uncertainMs: 2 },
      roundTripMs: 4,
    });
  });

  it("is known to half a second where its date has no fractions", () => {
    const { clock } = leastTrip([{ sent: 5200, back: 5210, said: "5.%N" }]);
    expect(clock!.uncertainMs).toBe(505);
    expect(Math.abs(clock!.aheadMs)).toBeLessThanOrEqual(clock!.uncertainMs);
    expect(leastTrip([{ sent: 0, back: 1, said: "date: invalid" }]).clock).toBeNull();
    expect(leastTrip([])).toEqual({ clock: null, roundTripMs: null });
  });

  it("lies within what is said of it, wherever in its trip the question was answered", () => {
    const ms = fc.double({ min: 0, max: 1e9, noNaN: true });
    fc.assert(
      fc.property(
        ms,
        ms,
        fc.double({ min: 0, max: 1, noNaN: true }),
        ms,
        (at, long, when, ahead) => {
          const trip = Math.min(long, 1e5);
          const said = ((at + when * trip + ahead) / 1000).toFixed(9);
          const { clock } = leastTrip([{ sent: at, back: at + trip, said }]);
          expect(Math.abs(clock!.aheadMs - ahead)).toBeLessThanOrEqual(clock!.uncertainMs + 1e-3);
        },
      ),
    );
  });
});

describe("what a host lacks", () => {
  const whole: HostFacts = {
    ...readFacts(SAID),
    compiler: "/usr/bin/cc",
    cache: { folder: "/c", freeBytes: 1e9, kept: [] },
    clock: { aheadMs: 3, uncertainMs: 2 },
    roundTripMs: 4,
  };
  const of = (change: Partial<HostFacts>) => lacksOf({ ...whole, ...change }, "armv7l");

  it("is nothing where all is there", () => {
    expect(of({})).toEqual([]);
    expect(measuredBy(whole, "armv7l")).toBe("engine");
  });

  it.each<[string, Partial<HostFacts>, MeasuredBy | null]>([
    ["no runtime", { node: null }, "program"],
    ["one that is too old", { node: { path: "/n", version: "v20.18.9" } }, "program"],
    [
      "no runtime, no compiler, another processor",
      { node: null, compiler: null, architecture: "mips" },
      null,
    ],
    ["no place to write", { cache: null }, null],
    ["no room", { cache: { folder: "/c", freeBytes: 1000, kept: [] } }, null],
    ["another system", { system: "FreeBSD" }, null],
    ["a clock that is a year off", { clock: { aheadMs: -3.2e10, uncertainMs: 500 } }, "engine"],
  ])("is said, and by what it is measured: %s", (_, change, by) => {
    expect(of(change)).toHaveLength(1);
    expect(measuredBy({ ...whole, ...change }, "armv7l")).toBe(by);
  });

  it("is no compiler where what is built here runs there", () => {
    const bare = { ...whole, node: null, compiler: null };
    expect(measuredBy(bare, whole.architecture)).toBe("program");
    expect(lacksOf(bare, whole.architecture)).toHaveLength(1);
  });

  it("has room told by its shell, whatever a file system is called", () => {
    const said = [
      "Welcome",
      "nerrit-space",
      "Filesystem 1024-blocks Used Available Capacity Mounted on",
      "//nas/my share 1000 400 600 40% /mnt/a b",
      "",
    ].join("\n");
    expect(spaceIn(said)).toEqual({ total: 1_024_000, free: 614_400 });
    expect(spaceIn("Welcome 1 2 3 4%\nnerrit-space\n")).toBeNull();
  });
});
