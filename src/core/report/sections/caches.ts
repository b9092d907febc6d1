import { tellCache, tellFit, tellRest } from "../../compare/cache-words";
import { cachesShown, type CacheShown } from "../../compare/caches";
import { formatPercent } from "../../units/number";
import { formatSize } from "../../units/size";
import { anchorOf, words, type Block, type Cell } from "../document";
import type { Matter } from "../matter";

/** What rest is said for: a card or two of a camera. */
const A_JOB = 200e9;

/** Caches of drives over their free space: a sentence and a table each; nothing where none was looked at. */
export const cachesBlocks = (matter: Matter): Block[] =>
  cachesShown(matter.filed.measurements, matter.filed.rigs, { rigs: null, drive: null }).flatMap(
    (cache, i): Block[] => {
      const rest = tellRest(cache, A_JOB);
      return [
        { kind: "prose", words: [[tellCache(cache), rest].filter(Boolean).join(" ")] },
        ...(cache.fills.length > 0
          ? [{ kind: "table" as const, table: tableOf(matter, cache, i) }]
          : []),
      ];
    },
  );

function tableOf(
  { filed: { measurements }, rates }: Matter,
  { drive, fills, fit }: CacheShown,
  at: number,
) {
  const size = (bytes: number): Cell => ({
    text: formatSize(Number(bytes.toPrecision(3)), 1000),
    value: bytes,
  });
  const rate = (mbps: number | null): Cell =>
    mbps === null ? words("–") : { text: rates.rate(mbps), value: mbps };
  const measured = (runId: string) =>
    measurements.find(({ runs }) => runs.some(({ id }) => id === runId))?.id;
  return {
    key: `cache-${at + 1}`,
    title: `Cache of ${drive} against free space`,
    note: fit ? tellFit(fit) : "Fills at one level only.",
    columns: [
      { name: "rig" },
      ...["free", "cache", `full rate, ${rates.unit}`, `after it, ${rates.unit}`].map((name) => ({
        name,
        figure: true,
      })),
    ],
    rows: fills.map((fill): Cell[] => {
      const run = measured(fill.runId);
      const level = fill.level === null ? "" : `, ${formatPercent(fill.level)} full`;
      const cache = size(fill.cacheBytes);
      return [
        words(`${fill.letter}${level}`),
        size(fill.freeBytes),
        {
          ...cache,
          text: fill.edge ? cache.text : `over ${cache.text}`,
          ...(run ? { run: anchorOf(run) } : {}),
        },
        rate(fill.fullMBps),
        rate(fill.afterMBps),
      ];
    }),
  };
}
