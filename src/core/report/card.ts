import { capital } from "../chain/wording";
import { claimWords } from "../chain/claim";
import { PART_KIND_NAMES, type Part } from "../chain/part";
import { setUpKey } from "../chain/set-up";
import { DRILLS } from "../drills/catalogue";
import { drillKey } from "../drills/drill";
import { compareRepeats } from "../stats/compare";
import { observationsOf, type BriefMeasurement } from "../study/measurement";
import { outcomesOf, outcomeWords } from "../study/outcome";
import { formatDay } from "../units/day";
import { formatNumber, formatPercent, plainNumber, ratesIn } from "../units/number";
import { writtenAs } from "../units/writing";
import { formatCapacity } from "../units/size";
import { Direction, DOING, inUnit } from "../units/rate";
import { type ReportChoice } from "../study/report-choice";
import { words, type Block, type Cell, type ReportDocument } from "./document";
import { originWords } from "./origins";
import { drillWords, holds, seenWith, type InStudy, type Seen } from "./seen-with";
import { linesOf, shortened, prose, table } from "./card-table";

/** How a card is written: as a report is. */
export type CardChoice = Pick<ReportChoice, "unit" | "numbers" | "dates">;

/** Lines of all tables that fit on one page together; of any but the rigs' table; and of that at least. */
const [ON_A_PAGE, LEAST_RIGS] = [30, 4];

/**
 * The shelf card of a part, on one page: what it claims, what it has been shown to carry, every rig it
 * stood in, and whether it gets slower.
 *
 * @param studies every one whose rigs have the part in them
 * @param at when it is made, ISO 8601
 */
export function cardOf(
  part: Part,
  studies: readonly InStudy[],
  choice: CardChoice,
  at: string,
): ReportDocument {
  return writtenAs(choice, () => {
    const seen = seenWith(part, studies);
    const above: [string, Block[]][] = [
      ["What it is", [facts(part, choice)]],
      ["Does it deliver?", verdicts(part, studies, choice)],
      ["What does not work with it", dead(part, studies, choice)],
      ["What it has been shown to carry", shown(part, seen, choice)],
      ["Is it getting slower?", drift(seen, choice)],
    ];
    const lines = above.flatMap(([, blocks]) => blocks).reduce((sum, one) => sum + linesOf(one), 0);
    const left = Math.max(LEAST_RIGS, ON_A_PAGE - lines);
    const sections = [
      ...above,
      ["Every rig it stood in", rigs(seen, choice, left)] as [string, Block[]],
    ];
    return {
      form: "card",
      title: part.name,
      author: capital(PART_KIND_NAMES[part.kind]),
      made: formatDay(at, choice.dates),
      origins: originWords(seen.map((one) => one.seen.origin)),
      sections: sections
        .filter(([, blocks]) => blocks.length > 0)
        .map(([title, blocks], i) => ({ key: `card-${i + 1}`, title, own: "", blocks })),
    };
  });
}

function facts(part: Part, { unit }: CardChoice): Block {
  const { maker, model, serial, tag, chip, firmware, lengthM, claims, price, capacityBytes } = part;
  const rows: [string, string][] = [
    ["maker and model", [maker, model].filter(Boolean).join(" ")],
    ["serial", serial],
    ["tag", tag],
    ["chip inside", chip],
    ["firmware", firmware],
    ["length", lengthM === null ? "" : `${plainNumber(lengthM)} m`],
    ["capacity", capacityBytes ? formatCapacity(capacityBytes).label : ""],
    ["price", price ? `${formatNumber(price.amount, 2)} ${price.currency}` : ""],
    ["claims", claims.map((claim) => claimWords(claim, ratesIn(unit))).join("; ")],
  ];
  return {
    kind: "table",
    table: {
      key: "facts",
      title: "As entered",
      note: "Claims as printed.",
      columns: [{ name: "what" }, { name: "said" }],
      rows: rows.filter(([, said]) => said).map((row) => row.map(words)),
    },
  };
}

function verdicts(part: Part, studies: readonly InStudy[], { unit }: CardChoice): Block[] {
  if (part.claims.length === 0) return [];
  const rates = ratesIn(unit);
  const within = studies.filter(({ rigs: all }) => all.some((rig) => holds(rig, part)));
  const rows = within.flatMap(({ study, conclusions }): Cell[][] =>
    conclusions
      .judge([part], rates)
      .map(({ claim, kind, shortBy, observed }) => [
        words(claimWords(claim, rates)),
        words(`${kind}${shortBy === null ? "" : ` by ${formatPercent(shortBy)}`}`),
        observed && claim.kind !== "iops"
          ? { text: rates.rate(observed.median), value: inUnit(observed.median, unit) }
          : words("–"),
        words(study.title),
      ]),
  );
  return [
    table({
      key: "verdicts",
      title: "Verdicts, study by study",
      note: `Measured: median, ${unit}.`,
      columns: ["claim", "verdict", "measured", "study"],
      rows,
      figures: [2],
    }),
  ];
}

/** Rigs with it that do not work, in the tester's words. */
function dead(part: Part, studies: readonly InStudy[], { dates }: CardChoice): Block[] {
  const rows = studies.flatMap(({ study, rigs: all, measurements }) =>
    outcomesOf(measurements, all)
      .filter(({ rig }) => holds(rig, part))
      .map((outcome) => [
        words(shortened(outcome.rig.name)),
        words(outcomeWords(outcome)),
        words(formatDay(outcome.at, dates)),
        words(study.title),
      ]),
  );
  if (rows.length === 0) return [];
  const columns = ["rig", "what happens", "seen", "study"];
  return [
    table({
      key: "dead",
      title: "Seen by the tester",
      note: "A result without a rate.",
      columns,
      rows,
      figures: [],
    }),
  ];
}

/** The most that passed, by drill and direction, and what 100 MB/s of that cost. */
function shown({ price }: Part, seen: readonly Seen[], { unit }: CardChoice): Block[] {
  const best = new Map<string, Seen>();
  for (const one of seen) {
    const { drill, doubtful, repeats } = one.seen;
    if (doubtful) continue;
    const key = `${drill.name} ${drill.direction}`;
    const known = best.get(key);
    if (!known || known.seen.repeats.median < repeats.median) best.set(key, one);
  }
  const rates = ratesIn(unit);
  // In the order in which drills are listed: what most people ask for comes first.
  const order = DRILLS.map(({ name }) => name);
  const sorted = [...best.values()].toSorted(
    (a, b) => order.indexOf(a.seen.drill.name) - order.indexOf(b.seen.drill.name),
  );
  const rows = sorted.map(({ seen: one, letter, of }): Cell[] => {
    const { median, interval } = one.repeats;
    return [
      words(drillWords(one)),
      { text: rates.rate(median), value: inUnit(median, unit) },
      words(
        interval ? `${rates.rate(interval.low)} to ${rates.rate(interval.high)}` : "one run: none",
      ),
      words(`${letter} ${one.rig.name}, ${of.study.title}`),
      ...(price ? [costOf(price, median)] : []),
    ];
  });
  if (rows.length === 0) return [prose("Nothing was measured through it yet.")];
  return [
    table({
      key: "carried",
      title: "The most that passed",
      note: `Medians, ${unit}: it carries at least that. What memory may have answered is left out.`,
      columns: [
        "drill",
        unit,
        "95 % interval",
        "rig and study",
        ...(price ? [`${price.currency} per delivered 100 MB/s`] : []),
      ],
      rows,
      figures: [1, 2, 4],
    }),
  ];
}

const costOf = ({ amount }: NonNullable<Part["price"]>, mbps: number): Cell => {
  const each = (amount / mbps) * 100;
  return { text: formatNumber(each, 2), value: each };
};

/** Whether the same set-up gave less in its last runs than in its first, beyond its noise. */
function drift(seen: readonly Seen[], { unit, dates }: CardChoice): Block[] {
  const rates = ratesIn(unit);
  const series = new Map<string, Seen[]>();
  for (const one of seen.flatMap(byDay)) {
    const key = `${setUpKey(one.seen.rig)} ${drillKey(one.seen.drill)} ${one.seen.origin}`;
    series.set(key, [...(series.get(key) ?? []), one]);
  }
  const rows = [...series.values()].flatMap((all): Cell[][] => {
    const sorted = all.toSorted((a, b) => (a.at < b.at ? -1 : 1));
    const [first, last] = [sorted[0]!, sorted.at(-1)!];
    if (first.at.slice(0, 10) === last.at.slice(0, 10)) return [];
    const found = compareRepeats(first.seen.repeats, last.seen.repeats);
    const said =
      found.kind === "unknown"
        ? `can’t tell: ${found.why}`
        : found.kind === "same"
          ? "the same within the noise"
          : `${found.change < 0 ? "slower" : "faster"} by ${formatPercent(Math.abs(found.change))}`;
    const value = ({ seen: { repeats } }: Seen): Cell => ({
      text: rates.rate(repeats.median),
      value: inUnit(repeats.median, unit),
    });
    return [
      [
        words(`${first.letter} ${first.seen.rig.name}, ${drillWords(first.seen)}`),
        value(first),
        value(last),
        words(`${formatDay(first.at, dates)} to ${formatDay(last.at, dates)}`),
        words(said),
      ],
    ];
  });
  if (rows.length === 0) return [prose("Not known: no set-up with it was measured on two days.")];
  return [
    table({
      key: "drift",
      title: "The same set-up, first and last",
      note: `Medians, ${unit}.`,
      columns: ["rig and drill", "first", "last", "from when to when", "change"],
      rows,
      figures: [1, 2],
    }),
  ];
}

/** What was seen, day by day. */
function byDay(one: Seen): Seen[] {
  const ids = new Set(one.seen.measurementIds);
  const days = new Map<string, BriefMeasurement[]>();
  for (const measurement of one.of.measurements) {
    if (!ids.has(measurement.id)) continue;
    const day = measurement.createdAt.slice(0, 10);
    days.set(day, [...(days.get(day) ?? []), measurement]);
  }
  return [...days.values()].flatMap((alike) =>
    observationsOf(alike).map((seen) => ({ ...one, seen, at: alike[0]!.createdAt })),
  );
}

/** Every rig in one line: the most it gave each way, in whatever drill. */
function rigs(seen: readonly Seen[], { unit, dates }: CardChoice, most: number): Block[] {
  const rates = ratesIn(unit);
  const found = new Map<string, Seen[]>();
  for (const one of seen) {
    const key = `${one.of.study.title}\n${setUpKey(one.seen.rig)}`;
    found.set(key, [...(found.get(key) ?? []), one]);
  }
  const rows = [...found.values()].map((all): Cell[] => {
    const [{ of, letter, seen: first }] = all as [Seen];
    const fastest = (way: Direction): Cell => {
      const best = all
        .filter((one) => one.seen.drill.direction === way)
        .toSorted((a, b) => b.seen.repeats.median - a.seen.repeats.median)[0]?.seen;
      return best
        ? {
            text: `${rates.rate(best.repeats.median)}${best.doubtful ? " (memory?)" : ""}`,
            value: inUnit(best.repeats.median, unit),
          }
        : words("–");
    };
    const runs = all.reduce((sum, one) => sum + one.seen.repeats.n, 0);
    const last =
      all
        .map(({ at }) => at)
        .toSorted()
        .at(-1) ?? "";
    return [
      words(shortened(`${letter} ${first.rig.name}`)),
      words(shortened(of.study.title)),
      ...Direction.options.map(fastest),
      { text: formatNumber(runs), value: runs },
      words(last.startsWith("1970") || !last ? "–" : formatDay(last, dates)),
      words([...new Set(all.map((one) => one.seen.origin))].join(", ")),
    ];
  });
  if (rows.length === 0) return [];
  return [
    table({
      key: "rigs",
      title: "Rigs",
      note: `The latest first; the highest median of any drill, ${unit}.`,
      columns: [
        "rig",
        "study",
        ...Direction.options.map((way) => DOING[way]),
        "runs",
        "last",
        "origin",
      ],
      rows,
      figures: [2, 3, 4],
      most,
    }),
  ];
}
