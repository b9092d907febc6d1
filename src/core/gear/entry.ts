import { PartDraft, type Part, type PartKind } from "../chain/part";
import { readClaims, type Doubt } from "./claims/read-claims";
import { claimUnit, FIGURES, unitsMeant } from "./claims/figures";
import { findKinds } from "./find-kind";
import { gearName, partOfKind, type GearKind } from "./gear-kind";

/** What one line says of a part: "Serac: 10g nvme box, 1000 MB/s". */
export interface GearEntry {
  /** What the tester calls it; empty where the line says none. */
  name: string;
  /** The kinds of gear that the line may mean, the likeliest first. */
  kinds: GearKind[];
  /** Whether the first of them has every word of the line that says what it is. */
  whole: boolean;
  /** Claims as printed: everything behind the first comma, and rates before it. */
  claims: string;
}

/** A rate in bytes, or requests a second, in the middle of what a part is. */
const RATE = new RegExp(FIGURES.source, "g");

/** Rates of USB that are said in Mb/s, and written in small letters as often as not. */
const USB_MBPS = ["12", "480"];

/** Whether a figure is a claim: what counts bytes or requests, or is meant to. Bits say which kind it is. */
function isRate(figure: string, unit: string): boolean {
  const known = claimUnit(unit);
  if (known) return known.of !== "bits";
  if (/^g(?:b|bit)?(?:\/s|ps)$/i.test(unit)) return false;
  if (/^m(?:b|bit)?(?:\/s|ps)$/i.test(unit)) return !USB_MBPS.includes(figure);
  return unit.length >= 4 && unitsMeant(unit).length > 0;
}

/** The claims that stand in the words that say what a part is. */
const ratesIn = (text: string): string[] =>
  [...text.matchAll(RATE)].flatMap(([found, figure = "", , , , unit = ""]) =>
    isRate(figure, unit) ? [found.trim()] : [],
  );

/** More of a line than anybody types of one part. */
const LONGEST = 400;

/**
 * Reads a line that says what a part is, what it is called and what is printed on it. Words that no kind of
 * gear knows are its name, or whatever stands before a colon.
 */
export function readEntry(
  line: string,
  kinds: readonly GearKind[],
  sorts: readonly PartKind[] = [],
): GearEntry {
  const [first = "", ...behind] = line.slice(0, LONGEST).split(/,(?!\d)/);
  const called = /^([^:]{1,80}):\s*(.*)$/.exec(first);
  const what = called?.[2] ?? first;
  const rates = ratesIn(what);
  const kind = rates.reduce((left, rate) => left.replace(rate, " "), what);
  const found = findKinds(kind, kinds, sorts);
  return {
    name: (called?.[1] ?? found.others.join(" ")).trim(),
    kinds: found.kinds,
    whole: found.whole,
    claims: [...rates, ...behind.map((text) => text.trim())].filter(Boolean).join(", "),
  };
}

/** A part as one choice and a line of claims make it, and what of the claims is not clear. */
export interface EnteredPart {
  draft: PartDraft;
  doubts: Doubt[];
}

/** The modes that a part's own link can run: towards the host; of a port towards the drive, of a cable through it. */
export function ownModes({ kind, connectors }: Pick<Part, "kind" | "connectors">): string[] {
  const own = kind === "host-port" ? "down" : kind === "cable" ? "through" : "up";
  return connectors.filter(({ side }) => side === own).flatMap(({ modes }) => modes);
}

/** Makes a part of a kind of gear, a name and its claims as printed; without a name it is called by its kind. */
export function enteredPart(kind: GearKind, name: string, claims: string): EnteredPart {
  const of = partOfKind(kind);
  const read = readClaims(claims, {
    kind: kind.kind,
    modes: ownModes({ kind: kind.kind, connectors: kind.connectors }),
  });
  const plain = kind.like ? kind.like.name : gearName(kind);
  return {
    draft: PartDraft.parse({
      ...of,
      name: (name || plain).slice(0, 80),
      claims: read.claims.length > 0 ? read.claims : (of.claims ?? []),
    }),
    doubts: read.doubts,
  };
}
