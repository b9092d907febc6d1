import type { Part, PartKind } from "../../chain/part";
import type { Rig } from "../../chain/rig";

/** Parts of one kind that are tried in place of another: of more, they would only be alike. */
const MOST_OF_A_KIND = 40;
/** The same where there are very many rigs too, and each is asked about by itself. */
export const FEW_OF_A_KIND = 16;

/**
 * The parts of a shelf that changes are made with: of each kind those that were measured, then others in
 * the order of the shelf. On a shelf of thousands every further one tells what these do.
 *
 * @param rigs that were measured
 * @param most of a kind
 */
export function candidateParts(
  shelf: readonly Part[],
  rigs: readonly Rig[],
  most = MOST_OF_A_KIND,
): Part[] {
  const measured = new Set(
    rigs.flatMap((rig) => [...rig.parts, ...rig.beside, ...rig.other].map(({ id }) => id)),
  );
  const found: Part[] = [];
  const counts = new Map<PartKind, number>();
  const take = (part: Part) => {
    const count = counts.get(part.kind) ?? 0;
    if (count >= most) return;
    counts.set(part.kind, count + 1);
    found.push(part);
  };
  for (const part of shelf) if (measured.has(part.id)) take(part);
  for (const part of shelf) if (!measured.has(part.id)) take(part);
  return found;
}
