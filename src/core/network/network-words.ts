import { counted } from "../units/counted";
import { formatNumber, formatPercent, type RateWords } from "../units/number";
import { formatSize } from "../units/size";
import type { Direction } from "../units/rate";
import { ceilingOf, isProcessorFull, mostCarried, rowsOf, type NetworkFigures } from "./figures";

/** Which way data goes, as seen from the end that asks. */
export const WAY_WORDS: Record<Direction, string> = { read: "receiving", write: "sending" };

/** From so much above a ceiling on it is exceeded, as a share: rates are known to about a hundredth. */
const ABOVE = 0.02;

const WAYS = ["read", "write"] as const;

/** "112 MB/s receiving and 113 MB/s sending": the most of each way. */
export const carriedWords = (figures: NetworkFigures, { said }: RateWords): string =>
  WAYS.flatMap((way) => {
    const most = mostCarried(figures, way);
    return most ? [`${said(most.median)} ${WAY_WORDS[way]}`] : [];
  }).join(" and ");

/** How that stands to what the link of the slower end carries, in a sentence. */
export function ceilingWords(figures: NetworkFigures, { said }: RateWords): string {
  const ceiling = ceilingOf(figures);
  if (!ceiling)
    return "Neither interface says at which rate its link runs, so no ceiling can be given.";
  const { mode, mtu, mbps } = ceiling;
  const rates = WAYS.flatMap((way) => mostCarried(figures, way)?.median ?? []);
  const most = Math.max(...rates);
  if (most > mbps * (1 + ABOVE))
    return `That is more than the ${said(mbps)} that ${mode.name} carries: the link is not what its interfaces say.`;
  const share = formatPercent(most / mbps);
  return `That is ${share} of the ${said(mbps)} that ${mode.name} carries in frames of ${formatNumber(mtu)} B.`;
}

/** What keeps a figure from being the network's own, in sentences. */
export function cautionsOf(figures: NetworkFigures): string[] {
  const receivers = { read: figures.from, write: figures.to };
  return WAYS.filter((way) => isProcessorFull(figures, way)).map(
    (way) =>
      `A processor core of ${receivers[way]} had no time left while ${receivers[way]} received: the network may carry more.`,
  );
}

/** How it was measured, in a line. */
export function mannerWords({ passages, ends }: NetworkFigures): string {
  const [first] = passages;
  if (!first) return "";
  const each = passages.filter(
    ({ connections, direction }) =>
      connections === first.connections && direction === first.direction,
  );
  const names = [ends.from?.interface ?? null, ends.to?.interface ?? null];
  const through = names.every((name) => name !== null) ? `, ${names.join(" to ")}` : "";
  return `From memory to memory over TCP: the middle of ${counted(each.length, "passage")} of ${first.seconds} s each way, ${formatSize(first.block)} at a time${through}`;
}

/** A table of the middle rates by connections. */
export const networkTable = (
  figures: NetworkFigures,
  { rate, unit }: RateWords,
): { head: string[]; rows: string[][] } => ({
  head: ["over", ...WAYS.map((way) => `${WAY_WORDS[way]}, ${unit}`)],
  rows: rowsOf(figures).map(({ connections, rates }) => [
    counted(connections, "connection"),
    ...WAYS.map((way) => (rates[way] ? rate(rates[way].median) : "–")),
  ]),
});
