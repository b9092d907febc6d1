import { readTrace } from "../read";
import { changesOf } from "../changes";
import { isDrop } from "../cause";
import { bytesUntil, flowOf } from "../flow";
import type { MadeHeat } from "./made-heat";
import type { Made } from "./made-traces";

/** How near to the truth an edge has to be, as a share of its bytes. */
const NEAR = 0.05;

export interface Score {
  right: number;
  of: number;
  /** Those that were read wrong, in words. */
  wrong: string[];
}

const share = (score: Score) => score.right / Math.max(1, score.of);
export const inWords = (what: string, score: Score, wanted: number): string =>
  `${what.padEnd(52)} ${(100 * share(score)).toFixed(1)} % of ${score.of} (wanted: ${100 * wanted} %)`;

/** How many of the first edges were found where they are, and how many flat traces stayed flat. */
export function scoreEdges(traces: readonly Made[]): { edges: Score; all: Score; flats: Score } {
  const edges: Score = { right: 0, of: 0, wrong: [] };
  const all: Score = { right: 0, of: 0, wrong: [] };
  const flats: Score = { right: 0, of: 0, wrong: [] };
  for (const made of traces) {
    const flow = flowOf(made.samples);
    const drops = changesOf(flow).filter(isDrop);
    const found = drops.map(({ ms }) => bytesUntil(flow, ms));
    const near = (edge: number) => (bytes: number) => Math.abs(bytes / edge - 1) <= NEAR;
    const [first] = made.edges;
    const score = first === undefined ? flats : edges;
    score.of += 1;
    if (first === undefined ? found.length === 0 : found[0] !== undefined && near(first)(found[0]))
      score.right += 1;
    else score.wrong.push(`${found.map((b) => (b / flow.sum.at(-1)!).toFixed(3))} ${made.what}`);
    for (const edge of made.edges) {
      all.of += 1;
      if (found.some(near(edge))) all.right += 1;
    }
  }
  return { edges, all, flats };
}

/** How many were told apart: slowed down by heat, run out of cache, neither. */
export function scoreHeat(traces: readonly MadeHeat[]): Score {
  const score: Score = { right: 0, of: traces.length, wrong: [] };
  for (const made of traces) {
    const { throttled, cacheEdge, marks } = readTrace(made);
    const says = throttled === null ? "open" : throttled ? "heat" : cacheEdge ? "cache" : "none";
    if (says === made.truth) score.right += 1;
    else score.wrong.push(`${says} ${marks.map(({ text }) => text).join(" | ")} ${made.what}`);
  }
  return score;
}
