import * as z from "zod";
import {
  PART_KIND_NAMES,
  PartKind,
  SIDES,
  type Connector,
  type Part,
  type PartDraft,
} from "../chain/part";
import { Shape } from "../chain/shape";
import adapters from "./kinds/adapters.json";
import cables from "./kinds/cables.json";
import drives from "./kinds/drives.json";
import enclosures from "./kinds/enclosures.json";
import hostPorts from "./kinds/host-ports.json";
import hubs from "./kinds/hubs.json";
import networkBoxes from "./kinds/network-boxes.json";
import sets from "./kinds/sets.json";
import { wordsOf } from "./gear-words";

/** Gear as it is sold: what one knows of a part before it is on the bench. */
export interface GearKind {
  /** Its name, or that of the part that it was made from. */
  id: string;
  kind: PartKind;
  /** "SSD enclosure", and what tells it from others: "USB 10 Gb/s, NVMe". */
  what: string;
  detail: string;
  connectors: Connector[];
  /** Standards and other sources that say what such gear supports. */
  sources: readonly string[];
  /** All words by which it is found, as they are compared. */
  words: ReadonlySet<string>;
  /** Those of them that say what it is. */
  named: ReadonlySet<string>;
  /** The tester's own part that it repeats. */
  like?: Part;
}

/** A side as data: "usb-c: usb-10g, thunderbolt-3"; of a cable both ends, "usb-c>usb-a: usb-5g". */
const Side = z.string().regex(/^(?:[a-z0-9->]+: )?[a-z0-9.-]+(?:, [a-z0-9.-]+)*$/);

/** An everyday kind as the files of `kinds/` hold it. */
export const KindEntry = z.strictObject({
  what: z.string().min(1),
  detail: z.string().min(1),
  also: z.string().optional(),
  up: z.union([Side, z.array(Side)]).optional(),
  down: z.union([Side, z.array(Side)]).optional(),
  through: Side.optional(),
  source: z.string().optional(),
});
export type KindEntry = z.infer<typeof KindEntry>;

/** What a connector of a sort supports, by the name of its best mode, and which standard says so. */
const SETS: Readonly<Record<string, { modes: string[]; source: string }>> = sets;

const FILES: readonly [PartKind, readonly KindEntry[]][] = [
  ["host-port", hostPorts],
  ["cable", cables],
  ["hub", hubs],
  ["adapter", adapters],
  ["enclosure", enclosures],
  ["network-box", networkBoxes],
  ["drive", drives],
];

/** "SSD enclosure, USB 10 Gb/s, NVMe". */
export const gearName = ({ what, detail }: Pick<GearKind, "what" | "detail">): string =>
  `${what}, ${detail}`;

function setsOf(side: string): string[] {
  return side
    .slice(side.indexOf(": ") + 1)
    .trim()
    .split(", ");
}

function connectorOf(side: Connector["side"], text: string): Connector {
  const shapes = text.includes(": ") ? text.split(": ")[0]!.split(">") : [];
  const [shape, farShape] = shapes.map((name) => Shape.parse(name));
  const modes = [...new Set(setsOf(text).flatMap((name) => SETS[name]!.modes))];
  return { side, modes, ...(shape && { shape }), ...(farShape && { farShape }) };
}

const listed = (side: string | string[] | undefined): string[] => [side ?? []].flat();

/** Makes an everyday kind of its entry. @throws TypeError, ZodError where it names no such set or shape */
export function gearKind(kind: PartKind, entry: KindEntry): GearKind {
  const { what, detail, also = "", source } = entry;
  const sides = (["up", "down", "through"] as const).flatMap((side) =>
    listed(entry[side]).map((text): [Connector["side"], string] => [side, text]),
  );
  const sources = sides.flatMap(([, text]) => setsOf(text).map((name) => SETS[name]!.source));
  return {
    id: gearName(entry),
    kind,
    what,
    detail,
    connectors: sides.map(([side, text]) => connectorOf(side, text)),
    sources: [...new Set([...(source ? [source] : []), ...sources])],
    words: new Set(wordsOf(`${kind.replace("-", " ")} ${what} ${detail} ${also}`)),
    named: new Set(wordsOf(what)),
  };
}

/** Everyday kinds of gear, in the order in which they are offered. */
export const GEAR_KINDS: readonly GearKind[] = FILES.flatMap(([kind, entries]) =>
  entries.map((entry) => gearKind(kind, entry)),
);

/** Gear of a sort that no list has: what it supports is said by the tester. */
export const OTHER_KINDS: readonly GearKind[] = PartKind.options.map((kind) => {
  const what = `Other ${PART_KIND_NAMES[kind]}`;
  const words = new Set(wordsOf(what));
  return {
    id: what,
    kind,
    what,
    detail: "say yourself what it supports",
    connectors: SIDES[kind].map((side) => ({ side, modes: [] })),
    sources: [],
    words,
    named: words,
  };
});

/** A part of the tester's own as a kind: another one of the same make. */
export function likePart(part: Part): GearKind {
  const { id, kind, name, maker, model, connectors } = part;
  const made = [maker, model].filter(Boolean).join(" ");
  return {
    id,
    kind,
    what: `Another ${name}`,
    detail: made || "as on your shelf",
    connectors,
    sources: [],
    named: new Set(wordsOf(`another ${name}`)),
    words: new Set(wordsOf(`another ${kind.replace("-", " ")} ${name} ${made}`)),
    like: part,
  };
}

/** What a kind says of a part: its connectors; of one like another part everything but what is the item's own. */
export function partOfKind({ kind, connectors, like }: GearKind): Partial<PartDraft> {
  if (!like) return { kind, connectors };
  const { id: _, name: _name, serial: _serial, tag: _tag, ...rest } = like;
  const { notes: _notes, firmware: _firmware, photos: _photos, ...alike } = rest;
  return alike;
}
