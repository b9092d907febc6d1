import type { Part } from "../chain/part";
import type { Rig } from "../chain/rig";
import { stagesOf } from "../chain/stages";
import { drillNamed } from "../drills/catalogue";
import { TRANSPORT_NAMES } from "../ledger/account";
import { bottleneckOf } from "../chain/bottleneck";
import { conditionsDiffer } from "../study/condition-rows";
import { formatDay } from "../units/day";
import { formatNumber, formatPercent, ratesIn, type RateWords } from "../units/number";
import { writtenAs } from "../units/writing";
import { Direction, DOING, inUnit } from "../units/rate";
import type { CardChoice } from "./card";
import { words, type Block, type Cell, type ReportDocument } from "./document";
import { originWords } from "./origins";
import { seenWith, type InStudy, type Seen } from "./seen-with";

/** A column of the sheet that can be asked for. */
export interface SheetColumn {
  key: string;
  name: string;
}

/** Columns that say something of the rig, whatever was measured. */
const OF_RIG: Record<string, { name: string; of: (line: Line) => Cell }> = {
  enclosure: { name: "enclosure", of: ({ rig }) => words(named(rig, "enclosure")) },
  drive: { name: "drive", of: ({ rig }) => words(named(rig, "drive")) },
  "file-system": { name: "file system", of: ({ rig }) => words(rig.fileSystem || "–") },
  host: { name: "host", of: ({ rig }) => words(rig.host || "–") },
  driver: {
    name: "driver mode",
    of: ({ rig }) => words(rig.transport ? TRANSPORT_NAMES[rig.transport] : "as usual"),
  },
  price: { name: "price of the path", of: ({ rig }) => priceOf(rig) },
};
const USUAL = ["enclosure", "file-system"];

const named = ({ parts }: Rig, kind: Part["kind"]) =>
  parts
    .filter((part) => part.kind === kind)
    .map(({ name }) => name)
    .join(", ") || "–";

/** What everything but the drive costs; nothing is said where a price is missing or currencies differ. */
function priceOf({ parts }: Rig): Cell {
  const paid = parts.filter(({ kind }) => kind !== "drive" && kind !== "host-port");
  const prices = paid.flatMap(({ price }) => price ?? []);
  const [first] = prices;
  const known =
    prices.length === paid.length && prices.every(({ currency }) => currency === first?.currency);
  if (!first || !known) return words("–");
  const amount = prices.reduce((sum, price) => sum + price.amount, 0);
  return { text: `${formatNumber(amount, 2)} ${first.currency}`, value: amount };
}

/** One rig of one study, with what was seen of it. */
interface Line {
  of: InStudy;
  letter: string;
  rig: Rig;
  all: Seen[];
}

/** What a sheet of a part can show: each drill that was done through it, each way, and what rigs are. */
export function columnsOf(part: Part, studies: readonly InStudy[]): SheetColumn[] {
  const keys = new Set(seenWith(part, studies).map(({ seen }) => drillColumn(seen.drill)));
  return [
    ...[...keys].toSorted().flatMap((key) => [
      { key, name: nameOf(key) },
      { key: `${key}.efficiency`, name: `${nameOf(key)}, of the ceiling` },
    ]),
    ...Object.entries(OF_RIG).map(([key, { name }]) => ({ key, name })),
  ];
}

const drillColumn = ({ name, direction }: { name: string; direction: string }) =>
  `${name}.${direction}`;

function nameOf(key: string): string {
  const [name, direction] = key.split(".") as [string, string];
  const way = Direction.safeParse(direction).data;
  return `${drillNamed(name).title}, ${way ? DOING[way] : "both ways"}`;
}

/** The columns of a sheet where none were asked for: what a rig is, and every rate. */
export const usualColumns = (columns: readonly SheetColumn[]): string[] => [
  ...USUAL,
  ...columns.map(({ key }) => key).filter((key) => /^[\w-]+\.(read|write|mixed)$/.test(key)),
];

/**
 * A part in all its rigs, of all studies, side by side: a drive through all of them, or an enclosure over
 * all its drives.
 *
 * @param asked keys of columns, in their order; those that there are not are left out
 */
export function sheetOf(
  part: Part,
  studies: readonly InStudy[],
  asked: readonly string[],
  choice: CardChoice,
  at: string,
): ReportDocument {
  return writtenAs(choice, () => {
    const rates = ratesIn(choice.unit);
    const seen = seenWith(part, studies);
    const lines = linesOf(seen);
    const mixed = new Set(seen.map((one) => one.seen.origin)).size > 1;
    const there = columnsOf(part, studies);
    const columns = asked.flatMap((key) => there.find((one) => one.key === key) ?? []);
    const rows = lines.map((line): Cell[] => [
      words(`${line.letter} ${line.rig.name}`),
      words(line.of.study.title),
      ...columns.map(({ key }) => OF_RIG[key]?.of(line) ?? rateCell(line, key, rates, mixed)),
    ]);
    const blocks: Block[] =
      rows.length === 0
        ? [{ kind: "prose", words: ["Nothing was measured through it yet."] }]
        : [
            {
              kind: "table",
              table: {
                key: "sheet",
                title: `${part.name} in all its rigs`,
                note: `Medians of the repeats, ${choice.unit}; of several runs of one rig the latest. A rig that memory may have answered for says so.`,
                columns: [
                  { name: "rig" },
                  { name: "study" },
                  ...columns.map(({ key, name }) => ({
                    name:
                      key in OF_RIG || key.endsWith(".efficiency")
                        ? name
                        : `${name}, ${choice.unit}`,
                    figure: !(key in OF_RIG) || key === "price",
                  })),
                ],
                rows,
              },
            },
          ];
    const differing = differences(lines);
    return {
      form: "sheet",
      title: `${part.name}: comparison sheet`,
      author: "",
      made: formatDay(at, choice.dates),
      origins: originWords(seen.map((one) => one.seen.origin)),
      sections: [
        { key: "sheet-1", title: "Side by side", own: "", blocks },
        ...(lines.length > 1
          ? [
              {
                key: "sheet-2",
                title: "Where conditions differ",
                own: "",
                blocks: [
                  differing.length > 0
                    ? { kind: "list" as const, items: differing.map((text) => [text]) }
                    : {
                        kind: "prose" as const,
                        words: ["As far as they are known, the conditions of all were alike."],
                      },
                ],
              },
            ]
          : []),
      ],
    };
  });
}

/** Rigs of one drive or enclosure stand together; within them the order is that of the studies. */
function linesOf(seen: readonly Seen[]): Line[] {
  const found = new Map<string, Line>();
  for (const one of seen) {
    const key = `${one.of.study.title}\n${one.seen.rig.id}`;
    const line = found.get(key) ?? { of: one.of, letter: one.letter, rig: one.seen.rig, all: [] };
    line.all.push(one);
    found.set(key, line);
  }
  const box = ({ rig }: Line) => named(rig, "enclosure");
  return [...found.values()].toSorted((a, b) => (box(a) < box(b) ? -1 : box(a) > box(b) ? 1 : 0));
}

/** @param mixed whether rates of several origins stand side by side, so that each has to say its own */
function rateCell({ rig, all }: Line, key: string, rates: RateWords, mixed: boolean): Cell {
  const efficiency = key.endsWith(".efficiency");
  const column = key.replace(/\.efficiency$/, "");
  const found = all.find(({ seen }) => drillColumn(seen.drill) === column)?.seen;
  if (!found) return words("–");
  const { median } = found.repeats;
  if (!efficiency) {
    const beware = found.doubtful
      ? " (memory?)"
      : mixed && found.origin !== "measured"
        ? ` (${found.origin})`
        : "";
    return { text: `${rates.rate(median)}${beware}`, value: inUnit(median, rates.unit) };
  }
  const way = Direction.safeParse(found.drill.direction).data;
  const bottleneck = way && stagesOf(rig, way).length > 0 ? bottleneckOf(rig, way) : null;
  if (!bottleneck || bottleneck.ceiling <= 0) return words("–");
  return { text: formatPercent(median / bottleneck.ceiling), value: median / bottleneck.ceiling };
}

/** In what rigs were measured otherwise than the first of the sheet. */
function differences(lines: readonly Line[]): string[] {
  const [first, ...others] = lines;
  const base = first?.all[0]?.seen;
  if (!first || !base) return [];
  return others.flatMap(({ letter, of, all }) => {
    const differs = conditionsDiffer(all[0]!.seen.circumstances, base.circumstances);
    if (differs.length === 0) return [];
    const said = differs.map(({ what, a, b }) => `${what} ${a}, there ${b}`).join("; ");
    return [
      `${letter} of “${of.study.title}”, held against ${first.letter} of “${first.of.study.title}”: ${said}.`,
    ];
  });
}
