import { waitedFor } from "../../drills/copy-ends";
import type { BriefResult } from "../../run/brief";

/** Of the time that either side of a copy waited, so much has to be for one of them. */
const MOSTLY = 0.7;

/**
 * The side that copies mostly waited for, and its share of all the waiting, 0 to 1.
 *
 * @param results of runs of one drill
 * @returns null where nothing was copied, or neither side held the other up
 */
export function slowSideOf(
  results: readonly Pick<BriefResult, "waited" | "ms">[],
): { side: "from" | "to"; share: number } | null {
  const copies = results.flatMap(({ waited }) => waited ?? []);
  const sum = (of: (copy: (typeof copies)[number]) => number) =>
    copies.reduce((all, copy) => all + of(copy), 0);
  const [from, to] = [sum((one) => one.fromMs), sum((one) => one.toMs)];
  const side = waitedFor(
    from,
    to,
    results.reduce((all, { ms }) => all + ms, 0),
  );
  if (copies.length === 0 || side === "neither") return null;
  const share = (side === "from" ? from : to) / (from + to);
  return share >= MOSTLY ? { side, share } : null;
}
