import type { StudyFileInput } from "@/core/exchange/study-file";

/** Studies of known truth, as files: what their answer has to say follows from how they are made. */

type Part = StudyFileInput["parts"][number];
type Run = NonNullable<StudyFileInput["runs"]>[number];

const USB = ["usb-10g", "usb-5g"];
const SLOT = ["pcie-3.0-x2"];

const cable = (name: string, modes = USB): Part => ({
  id: name,
  kind: "cable",
  name,
  connectors: [{ side: "through", modes }],
});
const box = (name: string, claim?: number): Part => ({
  id: name,
  kind: "enclosure",
  name,
  connectors: [
    { side: "up", modes: USB },
    { side: "down", modes: SLOT },
  ],
  claims: claim ? [{ kind: "peak", direction: "read", mbps: claim }] : [],
});
const disk = (name: string): Part => ({
  id: name,
  kind: "drive",
  name,
  connectors: [{ side: "up", modes: SLOT }],
});
const port = (name: string): Part => ({
  id: name,
  kind: "host-port",
  name,
  connectors: [{ side: "down", modes: USB }],
});

/** Rates of three repeats around a median, MB/s. */
const around = (mbps: number) => [mbps, mbps * 1.003, mbps * 0.997];

/** One rig and what it gave: its cable, box and drive, and the median; null where it was not measured. */
type Made = [cable: string, box: string, disk: string, mbps: number | null];

function study(title: string, parts: Part[], made: readonly Made[]): StudyFileInput {
  return {
    format: "nerrit-study",
    version: 1,
    title,
    parts: [port("left port"), ...parts],
    rigs: made.map(([lead, inside, drive], i) => ({
      id: `r${i}`,
      name: `${inside} by ${lead}`,
      partIds: ["left port", lead, inside, drive],
    })),
    runs: made.flatMap(([, , , mbps], i): Run[] =>
      mbps === null
        ? []
        : [
            {
              rigId: `r${i}`,
              drill: { name: "haul", direction: "read" },
              ratesMBps: around(mbps),
            },
          ],
    ),
  };
}

const FAST = 1044;

/** A cable that holds every box that it is used with to a slower mode, and others that do not. */
const culprit = (): Made[] => [
  ["K1", "Serac", "D1", FAST],
  ["K2", "Serac", "D1", FAST - 2],
  ["K1", "Tarn", "D2", FAST - 4],
  ["K9", "Serac", "D1", 441],
  ["K9", "Tarn", "D2", 438],
  ["K9", "Tarn", "D1", 440],
  ["K2", "Tarn", "D1", FAST - 3],
];

/** The parts of a study; which of two alike is proposed first would be chance. */
const gear = (cables = ["K1", "K2", "K9"]) => [
  ...cables.map((name) => cable(name)),
  box("Serac", 1000),
  box("Tarn", 1000),
  disk("D1"),
  disk("D2"),
];

/** Very many cables, of which every tenth is slow. */
const many = (count: number) => {
  const leads = Array.from({ length: count }, (_, i) => cable(`L${i}`));
  const made = leads.map(({ name }, i): Made => [
    name,
    "Serac",
    "D1",
    i % 10 === 7 ? 420 : FAST - (i % 5),
  ]);
  return study(`${count} cables`, [...leads, box("Serac", 1000), disk("D1")], made);
};

/** The eight studies, by what they are made to show. */
export const ANSWER_STUDIES: Record<string, StudyFileInput> = {
  "one rig": study("One rig", gear(["K1"]), [["K1", "Serac", "D1", FAST]]),
  "two as designed": study(
    "Two as designed",
    [cable("K1"), cable("K5", ["usb-5g"]), box("Serac", 1000), disk("D1")],
    [
      ["K1", "Serac", "D1", FAST],
      ["K5", "Serac", "D1", 446],
    ],
  ),
  "one culprit in several rigs": study("One culprit", gear(), culprit()),
  "a likely cause": study("Likely", gear(["K1", "K2"]), [
    ["K1", "Serac", "D1", FAST],
    ["K1", "Tarn", "D1", 592],
    ["K1", "Tarn", "D2", 594],
  ]),
  "an open question": study("Open", gear(["K9"]), [["K9", "Tarn", "D2", 300]]),
  "a rate that cannot be": study(
    "Impossible",
    [cable("K1"), cable("K5", ["usb-5g"]), box("Serac", 1000), disk("D1")],
    [
      ["K1", "Serac", "D1", FAST],
      ["K5", "Serac", "D1", 7023],
    ],
  ),
  "20 rigs": many(20),
  "200 rigs": many(200),
};
