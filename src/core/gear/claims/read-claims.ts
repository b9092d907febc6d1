import type { PartKind } from "../../chain/part";
import { Claim } from "../../chain/claim";
import { plainWords } from "../../units/plain-words";
import { claimUnit, figureOf, FIGURES, isUnclear, unitsMeant, type ClaimUnit } from "./figures";
import { linksMeant } from "./over";

/** Something printed that is not clear: what it is, and the lines that would be. */
export interface Doubt {
  /** "“Gpbs” is no unit." */
  what: string;
  /** What it may have meant, and the whole line as it would then read. */
  instead: { text: string; line: string }[];
}

/** What a line of claims says. */
export interface ReadClaims {
  claims: Claim[];
  doubts: Doubt[];
}

/** Whose claims they are: what a figure without a direction means, and which links it can mean. */
export interface Claimant {
  kind: PartKind;
  /** Ids of the modes that its own link runs. */
  modes: readonly string[];
}

/** A comma between two figures parts thousands or decimals, any other two claims. */
const BETWEEN = /;|\s+(?:and|&|·|\|)\s+|(?<!\d),|,(?!\d)/i;

const DIRECTIONS = [
  ["read", /\b(?:reads?|reading|r)\b:?/i],
  ["write", /\b(?:writes?|writing|w)\b:?/i],
] as const;
const REVERSED = /\bwrit\w*\s*\/\s*read\w*/i;
const SUSTAINED = /\b(?:sustained|continuous)\b/i;
const IN_FLIGHT = /\b(?:qd|depth)\s?(\d+)\b|\b(\d+)\s+in flight\b/i;
const BLOCK = /\b(\d+(?:\.\d+)?)\s?(?:KiB|kB|KB|K)\b(?!\s*(?:iops|\/))/i;
const OVER = /\b(?:over|via|through)\s+(.+)$/i;
/** Words of boxes that change nothing. */
const IDLE =
  /\b(?:up to|up|to|max|maximum|min|peak|burst|speeds?|of|transfer|rates?|data|throughput|sequential|seq|random|rated|about|at|by|the|a|second|per|link)\b|[.:≤~()/-]/gi;

interface Item {
  text: string;
  figures: { text: string; thousands: string | undefined }[];
  /** As printed; empty where it has none of its own. */
  unit: string;
  direction: "read" | "write" | null;
  reversed: boolean;
  sustained: boolean;
  over: string;
  block: number | undefined;
  depth: number | undefined;
  /** What is left: words that say nothing that is known. */
  rest: string;
}

function itemOf(text: string): Item {
  let left = text;
  const take = (of: RegExp) => {
    const found = of.exec(left);
    if (found) left = left.replace(found[0], " ");
    return found;
  };
  const over = take(OVER)?.[1]?.trim() ?? "";
  // What a request is like stands beside the link, too.
  const behind = { text: over };
  const takeBehind = (of: RegExp) => {
    const found = of.exec(behind.text);
    if (found) behind.text = behind.text.replace(found[0], " ").trim();
    return found;
  };
  const depth = take(IN_FLIGHT) ?? takeBehind(IN_FLIGHT);
  const block = take(BLOCK) ?? takeBehind(BLOCK);
  const reversed = REVERSED.test(left);
  const ways = DIRECTIONS.filter(([, words]) => take(words)).map(([way]) => way);
  const sustained = take(SUSTAINED) !== null;
  const found = take(FIGURES);
  const [, first, k1, second, k2, unit = ""] = found ?? [];
  const pair = [
    [first, k1 ?? (second ? k2 : undefined)],
    [second, k2],
  ] as const;
  return {
    text,
    figures: pair.flatMap(([figure, k]) => (figure ? [{ text: figure, thousands: k }] : [])),
    unit,
    direction: ways.length === 1 ? ways[0]! : null,
    reversed,
    sustained,
    over: behind.text.replace(/\s+(?:at|by)$/i, ""),
    block: block ? Number(block[1]) * 1024 : undefined,
    depth: depth ? Number(depth[1] ?? depth[2]) : undefined,
    rest: left.replace(IDLE, " ").replace(/\s+/g, " ").trim(),
  };
}

/** More than is printed on any box. */
const LONGEST = 1000;

/**
 * Reads claims as they are printed, in one line: "up to 2800/2400 MB/s, 550k IOPS, 900 over USB". Two
 * figures are reading and writing. One figure of a drive is its reading rate; of what passes data on it
 * holds both ways. What is not clear is asked about, and makes no claim.
 */
export function readClaims(line: string, claimant: Claimant): ReadClaims {
  if (line.length > LONGEST)
    return { claims: [], doubts: [{ what: `More than ${LONGEST} signs of claims.`, instead: [] }] };
  const items = line
    .split(BETWEEN)
    .map((text) => text.trim())
    .filter(Boolean)
    .map(itemOf);
  const claims: Claim[] = [];
  const doubts: Doubt[] = [];
  items.forEach((item, i) => {
    const unit =
      item.unit ||
      items.slice(0, i).findLast((one) => one.unit)?.unit ||
      items.slice(i).find((one) => one.unit)?.unit ||
      "";
    const doubt = doubtOf(line, item, unit, claimant);
    if (doubt) doubts.push(doubt);
    else {
      const made = claimsOf(item, claimUnit(unit)!, claimant);
      const wrong = made.flatMap((claim) => {
        const { error } = Claim.safeParse(claim, { error: plainWords });
        return error ? [error.issues[0]!.message] : [];
      });
      if (wrong.length > 0) doubts.push({ what: `“${item.text}” ${wrong[0]}.`, instead: [] });
      else claims.push(...made);
    }
  });
  return { claims, doubts };
}

/** What is not clear of one item; null where everything is. */
function doubtOf(line: string, item: Item, unit: string, { modes }: Claimant): Doubt | null {
  const said = (old: string, text: string) => ({ text, line: line.replace(old, text) });
  const { figures, text } = item;
  if (figures.length === 0) {
    return { what: `“${text}” has no figure.`, instead: [] };
  }
  const odd = figures.find((figure) => isUnclear(figure.text));
  if (odd && !/^[GT]/.test(unit)) {
    const whole = odd.text.replace(".", "");
    const decimal = String(Number(odd.text));
    return {
      what: `“${odd.text}” can be read in two ways.`,
      instead: [said(odd.text, whole), said(odd.text, `${decimal}`)],
    };
  }
  if (unit === "") {
    const last = figures.at(-1)!.text;
    return {
      what: `“${text}” has no unit.`,
      instead: ["MB/s", "Gb/s", "IOPS"].map((one) => said(last, `${last} ${one}`)),
    };
  }
  const known = claimUnit(unit);
  if (!known) {
    return {
      what: `“${unit}” is not clear as a unit.`,
      instead: unitsMeant(unit).map((one) => said(unit, one)),
    };
  }
  if (known.of === "bits" && (item.direction || item.sustained || figures.length > 1)) {
    const rates = figures.map((one) => figureOf(one.text, one.thousands) * known.factor * 125);
    const printed = FIGURES.exec(text)![0].trim();
    return {
      what: `“${text}” is a link’s speed, in bits.`,
      instead: [
        said(printed, `${rates.map((rate) => Number(rate.toPrecision(4))).join("/")} MB/s`),
        said(text, printed),
      ],
    };
  }
  if (item.over && linksMeant(item.over, modes).length === 0) {
    return {
      what: `This part has no link “${item.over}”.`,
      instead: [
        {
          text: "over any link",
          line: line.replace(
            new RegExp(`\\s*(?:over|via|through)\\s+${escaped(item.over)}`, "i"),
            "",
          ),
        },
      ],
    };
  }
  if (item.rest) {
    return {
      what: `“${item.rest}” is not understood.`,
      instead: [
        { text: "leave it out", line: line.replace(item.rest, "").replace(/\s+/g, " ").trim() },
      ],
    };
  }
  return null;
}

const escaped = (text: string) => text.replace(/[.*+?^${}()|[\]\\]/g, "\\$&");

function claimsOf(item: Item, unit: ClaimUnit, { kind, modes }: Claimant): Claim[] {
  const values = item.figures.map(({ text, thousands }) =>
    scaled(figureOf(text, thousands), unit.factor),
  );
  if (unit.of === "bits") return [{ kind: "link", gbps: values[0]! }];
  const both = item.reversed ? (["write", "read"] as const) : (["read", "write"] as const);
  const ways =
    values.length > 1
      ? both
      : item.direction
        ? [item.direction]
        : kind === "drive"
          ? (["read"] as const)
          : both;
  const links: (string | undefined)[] = item.over ? linksMeant(item.over, modes) : [undefined];
  return links.flatMap((over) =>
    ways.map((direction, i): Claim => {
      const printed = {
        direction,
        ...(over !== undefined && { over }),
        ...(item.block !== undefined && { block: item.block }),
        ...(item.depth !== undefined && { depth: item.depth }),
      };
      const value = values[i] ?? values[0]!;
      return unit.of === "requests"
        ? { kind: "iops", ...printed, iops: value }
        : { kind: item.sustained ? "sustained" : "peak", ...printed, mbps: value };
    }),
  );
}

/** In the unit of claims, without what a factor of ten adds in binary. */
const scaled = (value: number, factor: number): number =>
  factor === 1 ? value : Number((value * factor).toPrecision(12));
