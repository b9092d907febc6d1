import type { PartKind } from "../chain/part";
import { EVERYDAY_DRILLS } from "./everyday";
import type { PlanRequest } from "./plan";

/** A place on the path of a usual test, and what belongs there. */
export interface TestPlace {
  kind: PartKind;
  /** "two enclosures or more, one in the other's place"; empty where one part is enough. */
  what: string;
}

/** A test as reviewers and laboratories do it again and again: its rigs, its drills, and what to read at the end. */
export interface UsualTest {
  id: string;
  name: string;
  /** The study's title, to begin with. */
  question: string;
  path: readonly TestPlace[];
  drills: PlanRequest["drills"];
  /** Fill levels at which they are done; left out: as the drive is. */
  fillLevels?: readonly number[];
  /** What answers the question, page by page. */
  read: string;
}

const place = (kind: PartKind, what = ""): TestPlace => ({ kind, what });
const haul = EVERYDAY_DRILLS.filter(({ name }) => name === "haul");
const longFill: PlanRequest["drills"][number] = { name: "long-fill", direction: "write" };

/** The usual tests, in the order in which they are offered. */
export const USUAL_TESTS: readonly UsualTest[] = [
  {
    id: "enclosure",
    name: "an enclosure",
    question: "Does the enclosure deliver its rated speed?",
    path: [
      place("host-port", "the fastest port there is"),
      place("cable"),
      place("enclosure", "the enclosure with its claims, and another to compare"),
      place("drive", "a drive that is faster than the claim"),
    ],
    drills: [...EVERYDAY_DRILLS, longFill],
    read: "Judge: the verdict on each claim, peak and sustained. Compare, traces: whether the rate holds.",
  },
  {
    id: "cable",
    name: "cables",
    question: "Which cable lets the drive run at its full speed?",
    path: [
      place("host-port"),
      place("cable", "every cable, each by its tag"),
      place("enclosure"),
      place("drive"),
    ],
    drills: haul,
    read: "Compare, matrix: the gain of each cable. Locate: which cable drops the link.",
  },
  {
    id: "hub",
    name: "a hub or dock",
    question: "What does the hub cost?",
    path: [
      place("host-port"),
      place("cable"),
      place("hub", "the hub or dock; measure the same drive straight too"),
      place("cable"),
      place("enclosure"),
      place("drive"),
    ],
    drills: EVERYDAY_DRILLS,
    read: "Compare: the rig with the hub beside the one without, large blocks and small requests.",
  },
  {
    id: "in-and-out",
    name: "a drive in and out of its box",
    question: "What does the box take from the drive?",
    path: [
      place("host-port", "the box's port, and a port that takes the drive itself"),
      place("cable"),
      place("enclosure"),
      place("drive"),
    ],
    drills: [...EVERYDAY_DRILLS, longFill],
    read: "Compare, native against observed: how far the box is from the drive by itself.",
  },
  {
    id: "cache",
    name: "a drive's cache",
    question: "How large is the drive's cache, and what is left of it as the drive fills?",
    path: [
      place("host-port", "the fastest port there is"),
      place("cable"),
      place("enclosure"),
      place("drive", "the drive, as empty as it can be made"),
    ],
    drills: [longFill],
    fillLevels: [0, 0.25, 0.5, 0.75, 0.9],
    read: "Compare, cache: its size over the free space, and what a job of your size meets.",
  },
  {
    id: "several",
    name: "a box of several drives",
    question: "Does the box give all its drives at once?",
    path: [
      place("host-port"),
      place("cable"),
      place("enclosure", "the box"),
      place("drive", "each drive by itself; add the others beside it afterwards"),
    ],
    drills: haul,
    read: "Compare, matrix by number of drives: where the uplink is full, and which bay is slow.",
  },
  {
    id: "network",
    name: "a network box",
    question: "How fast is the share, and what limits it?",
    path: [
      place("host-port", "the network port"),
      place("cable"),
      place("network-box"),
      place("drive", "the drive in the box"),
    ],
    drills: EVERYDAY_DRILLS,
    read: "The answer: network, box or drive. Judge: the claims of the box.",
  },
];

/** A usual test by its id; null for none of that name. */
export const usualTest = (id: string | null | undefined): UsualTest | null =>
  USUAL_TESTS.find((test) => test.id === id) ?? null;
