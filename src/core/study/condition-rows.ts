import type { Ballast } from "../ballast/ballast";
import type { Conditions } from "../run/result";
import { formatNumber } from "../units/number";
import { formatSize } from "../units/size";
import { statedWords, type Stated } from "../run/stated";

/** Under which conditions a run was made, as the system told them and as the tester said. */
export interface Circumstances {
  conditions: Conditions | null;
  stated: Stated;
  /** How warm the drive was as it began, °C, where that was told. */
  startCelsius?: number;
}

/** One circumstance, in words. */
export interface ConditionRow {
  what: string;
  value: string;
  /** The file it was read from. */
  from?: string;
  /** Says only how it stood then, so that two runs need not agree in it. */
  passing?: boolean;
}

/** Everything that is known of the circumstances of a run; what was not to be had is left out. */
export function conditionRows({ conditions, stated }: Circumstances): ConditionRow[] {
  const said = statedWords(stated);
  if (!conditions) return said;
  // An older version kept less.
  const {
    host,
    kernel,
    processor,
    cores,
    loadAtStart,
    fileSystem,
    mountOptions,
  }: Partial<Conditions> = conditions;
  const {
    freeBytes,
    scheduler,
    writeCache,
    requestLimitBytes,
    lane,
    io,
    memoryBytes,
    drive,
    link,
    ballast,
    clock,
    quiet = [],
  }: Partial<Conditions> = conditions;
  const rows: [string, string | null | undefined][] = [
    ["machine", host && `${host} · ${processor}, ${cores} cores`],
    ["memory", memoryBytes ? formatSize(memoryBytes) : null],
    ["kernel", kernel],
    ["drive", drive],
    ["attached by", link],
    ["file system", fileSystem],
    ["mounted with", mountOptions],
    ["ballast", ballast ? ballastIn(ballast) : null],
    ["scheduler", scheduler],
    ["write cache", writeCache],
    ["largest request", requestLimitBytes ? formatSize(requestLimitBytes) : null],
    [
      "requests",
      io && lane && `${io === "direct" ? "past" : "through"} the page cache, ${LANES[lane]}`,
    ],
  ];
  const passing: typeof rows = [
    ["load at the start", loadAtStart?.toFixed(2)],
    ["clock of the host", clock && clockWords(clock)],
    ["free at the start", freeBytes ? formatSize(freeBytes, 1000) : null],
  ];
  const known = ([what, value]: (typeof rows)[number]) => (value ? [{ what, value }] : []);
  // Asked twice of the system: with the run, and with what quietly costs speed.
  const double = new Set(["scheduler", "write cache"]);
  return [
    ...said,
    ...rows.flatMap(known),
    ...passing.flatMap(known).map((row) => ({ ...row, passing: true })),
    ...quiet.filter(({ what }) => !double.has(what)),
  ];
}

/** "1.2 ms ahead of this machine's, within 0.3 ms" */
const clockWords = ({ aheadMs, uncertainMs }: NonNullable<Conditions["clock"]>): string =>
  `${formatNumber(Math.abs(aheadMs))} ms ${aheadMs < 0 ? "behind" : "ahead of"} this machine’s, within ${formatNumber(uncertainMs)} ms`;

/** "kept 85 % full": what ballast was for. */
const ballastIn = ({ level, bytes }: Ballast): string =>
  level === null ? formatSize(bytes, 1000) : `kept ${percent(level)} full`;

const LANES: Record<NonNullable<Conditions["lane"]>, string> = {
  native: "by threads",
  ring: "by the kernel’s ring",
  portable: "by the runtime’s own file calls",
};

/** Share of a drive by which its fill may differ before its cache is another. */
const FILL = 0.1;

/**
 * In what the circumstances of two runs differ, as far as both are known.
 *
 * @returns a line each, with what each of them had
 */
export function conditionsDiffer(
  a: Circumstances,
  b: Circumstances,
): { what: string; a: string; b: string }[] {
  const [of, against] = [byName(a), byName(b)];
  const words = [...of].flatMap(([what, value]) => {
    const other = against.get(what);
    return other !== undefined && other !== value ? [{ what, a: value, b: other }] : [];
  });
  const [one, other] = [fillOf(a), fillOf(b)];
  const filled = one !== null && other !== null && Math.abs(one - other) > FILL;
  const [warm, cool] = [a.startCelsius, b.startCelsius];
  const warmer = warm !== undefined && cool !== undefined && Math.abs(warm - cool) > WARMER;
  return [
    ...words,
    ...(filled ? [{ what: "filled", a: percent(one), b: percent(other) }] : []),
    ...(warmer ? [{ what: "drive as it began", a: degrees(warm), b: degrees(cool) }] : []),
  ];
}

/** By so many degrees a drive may begin warmer before it is nearer to slowing down, °C. */
const WARMER = 8;
const degrees = (celsius: number) => `${Math.round(celsius)} °C`;

const percent = (share: number) => `${Math.round(share * 100)} %`;

/** Several of one name, such as two disks' schedulers, belong together. */
function byName(circumstances: Circumstances): Map<string, string> {
  const found = new Map<string, string>();
  for (const { what, value, passing } of conditionRows(circumstances)) {
    if (passing) continue;
    const before = found.get(what);
    found.set(what, before === undefined ? value : `${before}, ${value}`);
  }
  return found;
}

function fillOf({ conditions }: Circumstances): number | null {
  const { freeBytes, deviceBytes } = conditions ?? {};
  return freeBytes && deviceBytes ? 1 - freeBytes / deviceBytes : null;
}
