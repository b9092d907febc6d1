import { blankNode } from "../blank-node";
import { findingsOf } from "../findings";
import type { SeenBlock, SeenLink, SeenNode, SeenWay, SystemReport } from "../system-report";
import type { Said } from "./tree";

/** What pasted reports are put together of. */

/** Where a pasted text says something. */
export const lineOf = ({ line }: Pick<Said, "line">): string => `line ${line} of the text`;

/** A link by what the text says, and the mode that this is. */
export const linkOf = (said: Said, mode: string | null): SeenLink => ({
  mode,
  now: said.value,
  mostMode: null,
  most: null,
  from: [lineOf(said)],
});

/** A node of a pasted report, with the facts that are there. */
export function nodeOf(
  kind: SeenNode["kind"],
  name: string,
  at: string,
  facts: readonly (readonly [what: string, said: Said | null])[] = [],
): SeenNode {
  const node = blankNode(kind, name, at);
  node.facts = facts.flatMap(([what, said]) =>
    said ? [{ what, value: said.value, from: lineOf(said) }] : [],
  );
  return node;
}

/** A disk as a block device. @param bytes null where the text does not say */
export const diskOf = (name: string, bytes: number | null): SeenBlock => ({
  name,
  number: "",
  kind: "disk",
  bytes,
  over: [],
  facts: [],
});

/** One drive of a pasted text, and the way to it. */
export interface PastedDrive {
  way: SeenWay;
  disk: SeenBlock | null;
  /** What the text does not tell of it. */
  gaps: SystemReport["gaps"];
}

/** What stands for the root of a report that was read of a text. */
export const TEXT_OF = "text of ";

/** A pasted drive as a system reports it. @param source what the text is: "system_profiler" */
export function reportOf({ way, disk, gaps }: PastedDrive, source: string): SystemReport {
  const report: SystemReport = {
    format: "nerrit-system",
    version: 1,
    path: way.end,
    root: `${TEXT_OF}${source}`,
    kind: "device",
    mount: null,
    blocks: disk ? [disk] : [],
    ways: [way],
    cables: [],
    raid: null,
    findings: [],
    gaps,
  };
  return { ...report, findings: findingsOf(report) };
}

/** Bytes in "1 TB (1,000,204,886,016 bytes)", whatever parts its thousands, or a bare number; null where there are none. */
export function bytesIn(words: string): number | null {
  const inner = /\(([\d.,’'\s\u00a0\u202f]+)\s*bytes\)/i.exec(words)?.[1] ?? words;
  const digits = inner.replace(/[.,’'\s\u00a0\u202f]/g, "");
  return /^\d{1,18}$/.test(digits) ? Number(digits) : null;
}

/** Megabits a second in "Up to 10 Gb/s"; null where there are none. */
export function megabitsIn(words: string): number | null {
  const found = /([\d.]+)\s*([GM])b\/s/i.exec(words);
  if (!found) return null;
  return Number(found[1]) * (found[2]!.toUpperCase() === "G" ? 1000 : 1);
}
