import { describe, expect, it } from "vitest";
import { defineFrom } from "../drills/drill";
import { usualDrill } from "../drills/shape";
import type { SystemReport } from "../system/system-report";
import { drive, enclosure, port, rig } from "../testing/rigs";
import { preflight, type Surroundings } from "./preflight";

const whole = rig([port(), enclosure(), drive()], "whole");
const GIB = 2 ** 30;
const report = (more: Partial<SystemReport> = {}): SystemReport => ({
  format: "nerrit-system",
  version: 1,
  path: "/x",
  root: "/",
  kind: "directory",
  mount: null,
  blocks: [],
  ways: [],
  cables: [],
  raid: null,
  findings: [],
  gaps: [],
  ...more,
});
const calm = (more: Partial<Surroundings> = {}): Surroundings => ({
  facts: { kind: "directory", room: 100 * GIB, smallestBlock: 512, cache: null },
  report: null,
  space: { free: 100 * GIB, total: 200 * GIB },
  memory: false,
  shared: { system: false, own: false },
  busy: { drive: 0, core: 0.1, seconds: 1 },
  onBattery: null,
  lastWrite: null,
  targets: 1,
  ...more,
});
const read = usualDrill("haul", "read");
const write = usualDrill("haul", "write");
const find = (more: Partial<Surroundings>, drill = write, buffered = false) =>
  preflight(whole, drill, calm(more), buffered);
const mount = (type: string, options = "rw") => ({
  point: "/x",
  type,
  options,
  source: "/dev/x",
  from: "/proc/self/mountinfo",
});

describe("before a run", () => {
  it("finds nothing on a calm bench", () => {
    expect(find({})).toEqual([]);
    expect(find({}, read)).toEqual([]);
  });

  it.each<[string, Partial<Surroundings>, RegExp]>([
    ["no place", { facts: null }, /nothing there to measure on/],
    ["memory", { memory: true }, /is memory/],
  ])("stops at %s", (_, more, words) => {
    const [first] = find(more);
    expect(first).toMatchObject({ level: "stop", text: expect.stringMatching(words) });
  });

  it("stops where a copy does not fit, and offers as much of it as does", () => {
    const copy = defineFrom({ name: "ferry", direction: "write" }, null);
    const small = { kind: "directory" as const, room: 100e6, smallestBlock: 512, cache: null };
    const [first] = find({ facts: small }, copy);
    expect(first).toMatchObject({
      level: "stop",
      text: expect.stringMatching(/copy of .* not fit/),
    });
    const { fix } = first!;
    if (fix?.do !== "set" || typeof fix.value === "number") throw new Error("no files to make up");
    const less = defineFrom({ name: "ferry", direction: "write", mix: fix.value }, null);
    expect(find({ facts: small }, less)).toEqual([]);
    // A folder of the tester's own is as large as it is.
    expect(find({ facts: small, targets: 2 }, copy)).toEqual([]);
    expect(find({ facts: { ...small, room: 0 } }, copy)[0]).toMatchObject({ fix: null });
  });

  it("stops where the span does not fit, and offers the largest that does", () => {
    const small = {
      kind: "directory" as const,
      room: 325.7 * 2 ** 20,
      smallestBlock: 512,
      cache: null,
    };
    const [first] = find({ facts: small });
    expect(first!.fix).toEqual({
      label: "Use a span of 325 MiB",
      do: "set",
      name: "span",
      value: 325 * 2 ** 20,
    });
    const fits = defineFrom({ ...write, span: 325 * 2 ** 20 }, null);
    expect(find({ facts: small }, fits)).toEqual([]);
    const none = find({ facts: { ...small, room: 1000 } });
    expect(none[0]).toMatchObject({ level: "stop", fix: null });
  });

  it("stops at a device that would be written to", () => {
    const device = { kind: "device" as const, room: 100 * GIB, smallestBlock: 512, cache: null };
    expect(find({ facts: device })[0]).toMatchObject({ level: "stop" });
    expect(find({ facts: device }, read)).toEqual([]);
  });

  it("offers to measure memory buffered, and is content where that was chosen", () => {
    expect(find({ memory: true })[0]!.fix).toMatchObject({ do: "buffered" });
    expect(find({ memory: true }, write, true)).toEqual([]);
  });

  it.each<[string, Partial<Surroundings>, RegExp]>([
    ["a nearly full file system", { space: { free: 5, total: 100 } }, /95 % full/],
    ["a busy drive", { busy: { drive: 0.4, core: 0, seconds: 1 } }, /busy for 40 % of 1 s/],
    ["a busy core", { busy: { drive: 0, core: 0.9, seconds: 1 } }, /core was busy for 90 %/],
    ["the battery", { onBattery: { what: "", value: "", from: "/sys/b" } }, /battery/],
    ["the system’s drive", { shared: { system: true, own: false } }, /running system/],
    ["Nerrit’s own drive", { shared: { system: true, own: true } }, /Nerrit's own data/],
    ["folding", { lastWrite: { bytes: 64e9, secondsAgo: 200 } }, /64 GB .* 3 minutes ago/],
  ])("warns of %s", (_, more, words) => {
    const found = find(more);
    expect(found).toHaveLength(1);
    expect(found[0]).toMatchObject({ level: "beware", fix: null });
    expect(found[0]!.text.replaceAll("\u202f", " ")).toMatch(words);
  });

  it("says nothing of filling and folding where it does not matter", () => {
    expect(find({ space: { free: 5, total: 100 } }, read)).toEqual([]);
    expect(find({ lastWrite: { bytes: 64e9, secondsAgo: 2000 } })).toEqual([]);
    expect(find({ lastWrite: { bytes: 1e6, secondsAgo: 5 } })).toEqual([]);
    expect(find({ lastWrite: { bytes: 2e9, secondsAgo: 5 } }, read)).toEqual([]);
  });

  it("knows a hot drive by the limit that it names itself", () => {
    const disk = (celsius: number) =>
      report({
        ways: [
          {
            end: "sda",
            transport: null,
            nodes: [
              {
                kind: "disk",
                name: "Disk",
                at: "/d",
                maker: null,
                model: null,
                serial: null,
                link: null,
                driver: null,
                facts: [
                  { what: "temperature, Composite", value: `${celsius} °C`, from: "/t" },
                  { what: "temperature limit, Composite", value: "70 °C", from: "/m" },
                ],
              },
            ],
          },
        ],
      });
    const hot = { ...whole, parts: [port(), drive()] };
    const texts = (celsius: number) =>
      preflight(hot, write, calm({ report: disk(celsius) })).map(({ text }) => text);
    expect(texts(64).join()).toMatch(/64 °C and names 70 °C/);
    expect(texts(55).join()).not.toMatch(/°C/);
  });

  it("holds the rig against what the system says, and takes another drive for another rig", () => {
    const block = { name: "loop0", number: "7:0", over: [], facts: [] };
    const other = report({ blocks: [{ ...block, kind: "loop", bytes: 64e6 }] });
    const known = rig([port(), { ...drive(), capacityBytes: 1e12 }], "known");
    const [first] = preflight(known, write, calm({ report: other }));
    expect(first).toMatchObject({ level: "stop", text: expect.stringMatching(/holds 1 TB/) });
    const declared = { ...whole, fileSystem: "exFAT" };
    const [beware] = preflight(declared, write, calm({ report: report({ mount: mount("ext4") }) }));
    expect(beware).toMatchObject({ level: "beware", fix: { do: "as the system says" } });
  });

  it("notes what file systems do of their own accord, after all that matters more", () => {
    const found = find({
      report: report({ mount: mount("fuseblk", "rw,sync,compress=zstd") }),
      busy: { drive: 0.5, core: 0, seconds: 1 },
    });
    expect(found.map(({ level }) => level)).toEqual(["beware", "note", "note", "note"]);
  });
});
