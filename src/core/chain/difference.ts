import { PART_KIND_NAMES, type Part } from "./part";
import { fileSystemOf, type Rig } from "./rig";
import { TRANSPORT_NAMES } from "../ledger/account";
import { modeOf } from "../ledger/catalogue";
import { layoutOf } from "./several";

/** One thing in which two rigs differ, as a tester would count it. */
export type Difference =
  | { kind: "part"; a: Part | null; b: Part | null; what: string }
  | {
      kind:
        | "driver mode"
        | "file system"
        | "host"
        | "far host"
        | "layout"
        | "bay"
        | "link mode"
        | "bandwidth held"
        | "assumption";
      what: string;
    };

/**
 * What differs between two rigs, one entry a change. Parts that stand in both are lined up in
 * order; what is left between them is paired off by kind.
 */
export function differences(a: Rig, b: Rig): Difference[] {
  const found: Difference[] = [];
  const chains = [
    { kind: "", columns: alignParts([a.parts, b.parts]) },
    { kind: "beside the drive: ", columns: alignParts([a.beside, b.beside]) },
    { kind: "at the other end: ", columns: alignParts([a.other, b.other]) },
  ];
  for (const { kind, columns } of chains) {
    for (const [left = null, right = null] of columns) {
      if (left?.id === right?.id) continue;
      found.push({ kind: "part", a: left, b: right, what: kind + partDifference(left, right) });
    }
  }
  const compare = (kind: Exclude<Difference["kind"], "part">, left: string, right: string) => {
    if (left.toLowerCase() !== right.toLowerCase()) {
      found.push({ kind, what: `${left} in one, ${right} in the other` });
    }
  };
  const driver = ({ transport }: Rig) =>
    transport ? TRANSPORT_NAMES[transport] : "the usual driver";
  compare("driver mode", driver(a), driver(b));
  compare("file system", fileSystem(a), fileSystem(b));
  compare("host", a.host || "no host named", b.host || "no host named");
  // Runs that an older version made know of no far hosts and no bays.
  compare("far host", a.farHost || "no far host named", b.farHost || "no far host named");
  const bay = (rig: Rig) => (rig.bay ? `bay ${rig.bay}` : "no bay named");
  compare("bay", bay(a), bay(b));
  if (a.beside.length > 0 || b.beside.length > 0) {
    compare("layout", layoutOf(a) ?? "a single drive", layoutOf(b) ?? "a single drive");
  }
  compare("link mode", settledOf(a), settledOf(b));
  compare("bandwidth held", heldOf(a), heldOf(b));
  compare("assumption", assumptionsOf(a), assumptionsOf(b));
  return found;
}

const fileSystem = (rig: Rig) => fileSystemOf(rig) || "no file system named";

const sorted = (items: string[], none: string) => items.toSorted().join(", ") || none;

const nameOf = (rig: Rig, id: string) =>
  [...rig.parts, ...rig.beside, ...rig.other].find((part) => part.id === id)?.name ?? "a part";

const settledOf = (rig: Rig) =>
  sorted(
    rig.settled.map(({ partId, mode }) => `${nameOf(rig, partId)} at ${modeOf(mode).short}`),
    "links as negotiated",
  );

const heldOf = (rig: Rig) =>
  sorted(
    rig.held.map(({ partId, what }) => `${what} above ${nameOf(rig, partId)}`),
    "no bandwidth used by other devices",
  );

const assumptionsOf = (rig: Rig) =>
  sorted(
    Object.entries(rig.assumptions).map(([name, value]) => `${name} ${value}`),
    "standard assumptions",
  );

function partDifference(a: Part | null, b: Part | null): string {
  if (a && b) return `${PART_KIND_NAMES[a.kind]} ${a.name} against ${b.name}`;
  const one = (a ?? b)!;
  return `${PART_KIND_NAMES[one.kind]} ${one.name} in one only`;
}

/**
 * Lines several chains up in columns, so that the same part, or failing that the same kind of part,
 * stands in the same column. Order within each chain is kept.
 *
 * @returns columns from host to drive; each has one entry a chain, null where that chain has none
 */
export function alignParts(chains: readonly (readonly Part[])[]): (Part | null)[][] {
  let columns: (Part | null)[][] = (chains[0] ?? []).map((part) => [part]);
  chains.slice(1).forEach((chain, i) => {
    columns = merge(columns, chain, i + 1);
  });
  return columns;
}

/** How well a part fits a column: the same item best, the same kind next, another kind not at all. */
function fit(column: (Part | null)[], part: Part): number {
  if (column.some((p) => p?.id === part.id)) return 3;
  return column.some((p) => p?.kind === part.kind) ? 1 : -Infinity;
}

/** Longest weighted common order of columns and chain; what fits nowhere gets a column of its own. */
function merge(
  columns: (Part | null)[][],
  chain: readonly Part[],
  rows: number,
): (Part | null)[][] {
  const n = columns.length;
  const m = chain.length;
  const score = Array.from({ length: n + 1 }, () => new Array<number>(m + 1).fill(0));
  for (let i = n - 1; i >= 0; i--) {
    for (let j = m - 1; j >= 0; j--) {
      const matched = fit(columns[i]!, chain[j]!) + score[i + 1]![j + 1]!;
      score[i]![j] = Math.max(matched, score[i + 1]![j]!, score[i]![j + 1]!);
    }
  }
  const result: (Part | null)[][] = [];
  let i = 0;
  let j = 0;
  while (i < n || j < m) {
    const column = columns[i];
    const part = chain[j];
    if (column && part && fit(column, part) + score[i + 1]![j + 1]! === score[i]![j]) {
      result.push([...column, part]);
      i++;
      j++;
    } else if (column && (!part || score[i + 1]![j] === score[i]![j])) {
      result.push([...column, null]);
      i++;
    } else {
      result.push([...new Array<null>(rows).fill(null), part!]);
      j++;
    }
  }
  return result;
}
