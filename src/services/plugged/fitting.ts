import * as z from "zod";
import { whyNot } from "@/core/chain/fit";
import { behaviourOf, PartKind, type Part } from "@/core/chain/part";
import { byName } from "@/core/units/natural";
import type { Store } from "@/store/database";
import { getParts, listParts } from "@/store/parts";
import { checked, Problem } from "../problem";
import { shelfFor } from "../shelf/shelf";

/** A place in a chain, and what is looked for to stand in it. */
export const FittingQuery = z.object({
  before: z.array(z.string()).max(12).default([]),
  after: z.array(z.string()).max(12).default([]),
  /** Whether parts before it are still to come. */
  open: z.boolean().default(false),
  kinds: z.array(PartKind).default([]),
  sought: z.string().max(200).default(""),
  /** One part alone, to learn whether it fits. */
  id: z.string().optional(),
  /** The study whose rig it is: sample parts stand in sample studies only. */
  study: z.string().optional(),
});

export interface Fitting {
  fits: Part[];
  /** Parts that cannot stand there, each with the reason. */
  cannot: { part: Part; why: string }[];
  /** How many fit in all; the lists are cut to what can be looked through. */
  total: number;
}

const MOST_FITTING = 60;
const MOST_OTHERS = 20;

/** The parts of the shelf that can stand in a place of a chain, and those that cannot, with why. */
export function fitting(store: Store, input: unknown): Fitting {
  const { before, after, open, kinds, sought, id: only, study } = checked(FittingQuery, input);
  const known = getParts(store, [...before, ...after]);
  const place = { before: before.map(find), after: after.map(find), open };
  const words = sought.toLowerCase().split(/\s+/).filter(Boolean);
  const inChain = new Set([...before, ...after]);
  const shelf = study ? shelfFor(store, study) : listParts(store);
  const candidates = shelf
    .filter(({ id, retired }) => !retired && !inChain.has(id) && (!only || id === only))
    .filter(({ kind }) => kinds.length === 0 || kinds.includes(kind))
    .filter((part) => words.every((word) => entryOf(part).includes(word)));
  // On a large shelf many items are alike: each behaviour is looked at once.
  const looked = new Map<string, boolean>();
  const stands = (part: Part) => {
    const key = behaviourOf(part);
    if (!looked.has(key)) looked.set(key, whyNot(place, part) === null);
    return looked.get(key)!;
  };
  const fits = byName(candidates.filter(stands));
  const cannot = byName(candidates.filter((part) => !stands(part))).slice(0, MOST_OTHERS);
  return {
    fits: fits.slice(0, MOST_FITTING),
    cannot: cannot.map((part) => ({ part, why: whyNot(place, part)! })),
    total: fits.length,
  };

  function find(id: string): Part {
    const part = known.get(id);
    if (!part) throw new Problem(422, "A part of the rig is not on the shelf any more.");
    return part;
  }
}

const entryOf = ({ kind, name, maker, model, tag, serial }: Part) =>
  [kind.replace("-", " "), name, maker, model, tag, serial].join(" ").toLowerCase();
