import { formatMicroseconds, formatPercent, type RateWords } from "../units/number";
import { MB } from "../units/rate";
import { formatSize } from "../units/size";
import type { CheckedFigure, CrossCheck } from "./cross-check";
import type { Asking } from "./path-rates";

/** "128 KiB, 8 in flight, at random places". */
export const askedWords = ({ block, depth, isRandom }: Asking): string =>
  `${formatSize(block)}, ${depth === 1 ? "one" : depth} in flight${isRandom ? ", at random places" : ""}`;

/** What was found, in one or two sentences, the answer first. */
export function tellCrossCheck({ figures, differs }: CrossCheck, rates: RateWords): string {
  const open = figures.filter(({ verdict }) => verdict === "open");
  const off = figures.filter(({ verdict }) => verdict === "more" || verdict === "less");
  if (open.length === figures.length)
    return "Nothing can be said of requests at random places before a Depth ladder was done.";
  const told = figures.filter((one) => !open.includes(one) && !off.includes(one));
  const first =
    off.length === 0
      ? told.length > 1
        ? `They agree: ${told.map((one) => given(one, rates)).join("; ")}.`
        : `${told[0]!.name} shows what this path gives: ${given(told[0]!, rates)}.`
      : off.map((one) => missed(one, rates)).join(" ");
  if (!differs) return first;
  const { slow, of, setting, wouldMBps } = differs;
  const asked = { block: `requests of ${formatSize(of.block)}`, depth: inFlight(of) };
  const as = setting === "isRandom" ? "requests in a row" : asked[setting];
  const who = off.length > 0 ? "The others" : "They";
  return `${first} ${who} differ by how they ask: with ${as} ${slow} would show ${rates.said(wouldMBps)}.`;
}

const inFlight = ({ depth }: Asking): string =>
  depth === 1 ? "one request in flight" : `${depth} requests in flight`;

const given = (figure: CheckedFigure, { said }: RateWords): string =>
  `with ${askedWords(figure)}, ${said(figure.expectedMBps!)} is what this path gives`;

const missed = (figure: CheckedFigure, { said }: RateWords): string =>
  `${figure.name} shows ${formatPercent(Math.abs(figure.off!))} ${figure.off! > 0 ? "more" : "less"} than this path gives for how it asks, ${said(figure.expectedMBps!)}.`;

/** What may lie behind a figure that is not what the path gives, and what to do; empty where there is nothing. */
export function nextOf({ verdict, mbps, expectedMBps, depth, block }: CheckedFigure): string {
  switch (verdict) {
    case "as asked":
      return "";
    case "open":
      return "Do a Depth ladder: it tells what random places cost.";
    case "more":
      return "Memory may have answered in part, or requests were joined on the way. Let the program go past memory, over more data than there is of it.";
    case "less": {
      const us = ((depth * block) / MB) * (1 / mbps - 1 / expectedMBps!) * 1e6;
      return `Each request took ${formatMicroseconds(us)} longer than through this path: time of the program’s own, or data in another state than under the ladder.`;
    }
  }
}
