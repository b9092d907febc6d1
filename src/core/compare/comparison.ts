import { letterOf } from "../answer/lettered-rig";
import type { Rig } from "../chain/rig";
import { countedIn, withoutBallast } from "../conclude/counting";
import { DRILLS } from "../drills/catalogue";
import { drillKey } from "../drills/drill";
import { byRigOf, Origin, type BriefMeasurement, type Observation } from "../study/measurement";
import { besideBaseline, cellOf, type Cell } from "./cell";
import { columnsOf, type Column } from "./column";
import type { Question } from "./question";
import { weaknesses, type Weakness } from "./weak";

/** One rig of an answer, with what was seen of it in each column. */
export interface Row {
  letter: string;
  rig: Rig;
  cells: (Cell | null)[];
}

export interface Comparison {
  columns: Column[];
  rows: Row[];
  /** Further rows, that come when all are asked for. */
  hidden: number;
  /** The rig that others are held against; null where they are held against ceilings or claims. */
  baseline: Rig | null;
  /** What is weak about it, and what would make it sound. */
  weak: Weakness[];
  /** What can be asked: drives, and drills that were done. */
  drives: { id: string; name: string }[];
  drills: { name: string; title: string }[];
}

/** Rows at first: more are not read at a glance, and make the page slow. */
const MOST_ROWS = 30;

/** A study's observations by rig, so that a question does not look through all of them. */
export interface Evidence {
  rigs: readonly Rig[];
  of: ReadonlyMap<string, readonly Observation[]>;
  /** Titles of the studies that rigs belong to, by the id of the rig, where there are several. */
  studies?: ReadonlyMap<string, string>;
}

/** Sorts what was seen in a study to the rigs as they stand now. @param measurements the latest first */
export function evidenceOf(
  rigs: readonly Rig[],
  measurements: readonly BriefMeasurement[],
): Evidence {
  const { seen } = countedIn(rigs, measurements);
  const oneWay = seen.filter(({ drill }) => drill.direction !== "mixed");
  // What ballast did is shown by fill level (caches.ts), and stands beside nothing that was made without.
  return { rigs, of: byRigOf(withoutBallast(oneWay)) };
}

/**
 * Answers a question from what was seen.
 *
 * @param smallestEffect share below which a difference is of no interest
 */
export function compare(
  question: Question,
  evidence: Evidence,
  smallestEffect: number,
): Comparison {
  const { rigs, of } = evidence;
  const everything = [...of.values()].flat();
  const drives = new Map(
    rigs.flatMap(({ parts }) => {
      const drive = parts.at(-1);
      return drive ? [[drive.id, drive.name] as const] : [];
    }),
  );
  const done = new Set(everything.map(({ drill }) => drill.name));
  const asked = rigs
    .map((rig, i) => ({ rig, letter: letterOf(i) }))
    .filter(({ rig }) => question.rigs === null || question.rigs.includes(rig.id))
    .filter(({ rig }) => question.drive === null || rig.parts.at(-1)?.id === question.drive);
  const columns = columnsOf(
    question,
    asked.flatMap(({ rig }) => of.get(rig.id) ?? []),
  );
  const baseline = rigs.find(({ id }) => id === question.against) ?? null;
  const pick = (rig: Rig) => columns.map((column) => seenIn(of.get(rig.id) ?? [], column));
  const baseSeen = baseline ? pick(baseline) : [];
  const base = baseSeen.map((seen) => (seen && baseline ? cellOf(seen, baseline) : null));
  const rows = asked.map(({ rig, letter }): Row & { seen: (Observation | null)[] } => {
    const seen = pick(rig);
    const cells = seen.map((one, i) =>
      one ? besideBaseline(cellOf(one, rig), base[i] ?? null, smallestEffect) : null,
    );
    return { letter, rig, cells, seen };
  });
  const inOrder = sorted(rows, question);
  const shown = question.all ? inOrder : inOrder.slice(0, MOST_ROWS);
  const weak = shown.flatMap(({ letter, rig, cells, seen }) =>
    cells.flatMap((cell, i) => {
      const against = baseline && base[i] && baseSeen[i];
      return cell
        ? weaknesses(
            { letter, rig, cell, seen: seen[i]! },
            against
              ? {
                  letter: letterOf(rigs.indexOf(baseline)),
                  rig: baseline,
                  seen: baseSeen[i]!,
                  cell: base[i]!,
                }
              : null,
          )
        : [];
    }),
  );
  return {
    columns,
    rows: shown,
    hidden: inOrder.length - shown.length,
    baseline,
    weak: joined(weak),
    drives: [...drives].map(([id, name]) => ({ id, name })),
    drills: DRILLS.filter(({ name }) => done.has(name)).map(({ name, title }) => ({ name, title })),
  };
}

/** Measured before typed, typed before simulated; of one origin the latest, which stands first. */
function seenIn(seen: readonly Observation[], column: Column): Observation | null {
  let best: Observation | null = null;
  for (const one of seen) {
    if (!column.keys.includes(drillKey(one.drill))) continue;
    if (!best || rank(one) < rank(best)) best = one;
  }
  return best;
}

const rank = ({ origin }: Observation) => Origin.options.indexOf(origin);

function sorted<R extends Row>(rows: R[], { sort }: Question): R[] {
  if (sort === "letter") return rows;
  const price = ({ rig }: Row) => {
    const all = rig.parts.flatMap((part) => part.price?.amount ?? []);
    return all.length > 0 ? -all.reduce((sum, amount) => sum + amount, 0) : -Infinity;
  };
  const first = (row: Row) => row.cells.find((cell) => cell !== null);
  const by: Record<typeof sort, (row: Row) => number> = {
    rate: (row) => first(row)?.repeats.median ?? -1,
    efficiency: (row) => first(row)?.efficiency ?? -1,
    retention: (row) => first(row)?.retention ?? (first(row) ? 1 : -1),
    spread: (row) => -(first(row)?.repeats.spread ?? Infinity),
    price,
  };
  return rows.toSorted((a, b) => by[sort](b) - by[sort](a));
}

/** One line for each thing that is weak, with the rigs of which it holds. */
function joined(weak: readonly Weakness[]): Weakness[] {
  const found = new Map<string, Weakness>();
  for (const one of weak) {
    const known = found.get(one.what);
    if (!known) found.set(one.what, { ...one, letters: [...one.letters] });
    else known.letters.push(...one.letters.filter((letter) => !known.letters.includes(letter)));
  }
  return [...found.values()];
}
