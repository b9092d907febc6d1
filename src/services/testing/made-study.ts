import fc from "fast-check";
import type { StudyFileInput } from "@/core/exchange/study-file";

/**
 * Studies as a tester's folder holds them: a few parts of each kind in rigs that share them, each done in
 * some drills, with runs that were simulated, made on a rig that was changed since, or made twice with
 * other requests. In one half each part lets so much through and no more; in the other the rates are
 * nonsense, and what is said of them must be one and the same all the same.
 */

const USB = [["usb-20g", "usb-10g", "usb-5g"], ["usb-10g", "usb-5g"], ["usb-5g"]];
const SLOT = ["pcie-3.0-x2"];

type Part = StudyFileInput["parts"][number];
type Run = NonNullable<StudyFileInput["runs"]>[number];

const modes = fc.constantFrom(...USB);
const mbps = fc.integer({ min: 20, max: 1900 });
const up = (of: string[]) => ({ side: "up" as const, modes: of });
const down = (of: string[]) => ({ side: "down" as const, modes: of });

const parts = fc
  .record({
    port: modes,
    cables: fc.tuple(modes, modes),
    boxes: fc.tuple(modes, modes),
    claim: mbps,
  })
  .map(({ port, cables, boxes, claim }): Part[] => [
    { id: "port", kind: "host-port", name: "Port", connectors: [down(port)] },
    ...cables.map((of, i): Part => ({
      id: `cable-${i}`,
      kind: "cable",
      name: `Cable ${i}`,
      connectors: [{ side: "through", modes: of }],
    })),
    ...boxes.map((of, i): Part => ({
      id: `box-${i}`,
      kind: "enclosure",
      name: `Box ${i}`,
      connectors: [up(of), down(SLOT)],
      claims: [
        { kind: "peak", direction: "read", mbps: claim + 100 * i },
        { kind: "sustained", direction: "write", mbps: claim },
      ],
    })),
    ...[0, 1].map((i): Part => ({
      id: `disk-${i}`,
      kind: "drive",
      name: `Disk ${i}`,
      connectors: [up(SLOT)],
    })),
  ]);

const which = fc.integer({ min: 0, max: 1 });
const rig = fc.record({
  chain: fc.tuple(which, which, which),
  fileSystem: fc.constantFrom("", "ext4", "exFAT"),
});

const run = fc.record({
  drill: fc.constantFrom(
    { name: "haul", direction: "read" as const },
    { name: "haul", direction: "read" as const },
    { name: "haul", direction: "write" as const },
    { name: "haul", direction: "read" as const, depth: 1 },
    { name: "scatter", direction: "read" as const },
    { name: "long-fill", direction: "write" as const },
  ),
  rate: mbps,
  repeats: fc.constantFrom(1, 3, 3, 3),
  simulated: fc.boolean(),
  /** Made before its rig was changed. */
  changed: fc.integer({ min: 0, max: 9 }).map((one) => one === 0),
});

/** Studies in which some runs are simulated have real ones beside them in one half. */
export const madeStudy: fc.Arbitrary<StudyFileInput> = fc
  .record({
    parts,
    rigs: fc.array(rig, { minLength: 2, maxLength: 4 }),
    runs: fc.array(fc.tuple(fc.integer({ min: 0, max: 3 }), run), { minLength: 2, maxLength: 9 }),
    mixed: fc.boolean(),
    /** What each cable, box and disk lets through, MB/s; null for nonsense. */
    through: fc.option(fc.array(mbps, { minLength: 6, maxLength: 6 }), { freq: 1 }),
  })
  .map(({ parts: shelf, rigs, runs, mixed, through }) => {
    const chainOf = ([cable, box, disk]: readonly number[]) => [
      "port",
      `cable-${cable}`,
      `box-${box}`,
      `disk-${disk}`,
    ];
    const named = rigs.map(({ chain, fileSystem }, i) => ({
      id: `rig-${i}`,
      name: `Rig ${i}`,
      partIds: chainOf(chain),
      fileSystem,
    }));
    return {
      format: "nerrit-study",
      version: 1,
      title: "Made up",
      parts: shelf,
      rigs: named,
      runs: runs.map(([at, one], i): Run => {
        const own = named[at % named.length]!;
        const scale = one.drill.name === "scatter" ? 0.05 : 1;
        const { id, name, fileSystem, partIds } = own;
        const [cable, box, disk] = rigs[at % named.length]!.chain;
        const least = through && Math.min(through[cable]!, through[2 + box]!, through[4 + disk]!);
        const rate = scale * (least ?? one.rate);
        const then = partIds.map((part) => (part === `disk-${disk}` ? `disk-${1 - disk}` : part));
        return {
          rigId: id,
          drill: one.drill,
          ratesMBps: Array.from(
            { length: one.repeats },
            (_, k) => Math.round(rate * (1 + 0.004 * k) * 100) / 100,
          ),
          createdAt: new Date(Date.UTC(2026, 0, 1, 0, i)).toISOString(),
          simulated: mixed && one.simulated,
          ...(one.changed && {
            rigThen: {
              id,
              name,
              fileSystem,
              parts: then.map((part) => shelf.find((other) => other.id === part)!),
            },
          }),
        };
      }),
    } satisfies StudyFileInput;
  });
