import { Link } from "../controls/link";
import { isRateClaim, type Claim } from "@/core/chain/claim";
import { bestMode } from "@/core/chain/link";
import { PART_KIND_NAMES, PartKind, type Part } from "@/core/chain/part";
import { SHAPES } from "@/core/chain/shape";
import { impossibleClaim } from "@/core/judge/impossible";
import { formatNumber, formatRate } from "@/core/units/number";
import { formatCapacity } from "@/core/units/size";
import { CELL, FIGURE, HEAD, HEAD_RIGHT } from "../controls/table";
import { Tip } from "../controls/tip";
import { useRates } from "../frame/unit";

/** A part with its place on the shelf and the best that was measured through it. */
export type Shelved = Part & {
  retired: boolean;
  /** MB/s reading, the best run; null where none was. */
  measured: { mbps: number; simulated: boolean } | null;
  /** "12 % slower since 2026-03-03", "may be 12 % slower since …"; empty where it did not become slower. */
  slower: string;
};

interface Actions {
  onEdit: (part: Shelved) => void;
  onDuplicate: (part: Shelved) => void;
  onRetire: (part: Shelved) => void;
}

/** Parts by kind, with what they promise, cost and reached. */
export function ShelfTable({ parts, ...actions }: { parts: Shelved[] } & Actions) {
  const { unit } = useRates();
  return (
    <div className="overflow-x-auto">
      <table className="w-full">
        <thead>
          <tr>
            <th className={HEAD}>name</th>
            <th className={HEAD}>maker, model</th>
            <th className={HEAD}>best link</th>
            <th className={HEAD_RIGHT}>rated read / write, {unit}</th>
            <th className={HEAD}>claims, read / write</th>
            <th className={HEAD_RIGHT}>capacity</th>
            <th className={HEAD_RIGHT}>price</th>
            <th className={HEAD}>
              <span className="sr-only">actions</span>
            </th>
          </tr>
        </thead>
        {PartKind.options.map((kind) => (
          <Group
            key={kind}
            kind={kind}
            parts={parts.filter((part) => part.kind === kind)}
            {...actions}
          />
        ))}
      </table>
    </div>
  );
}

function Group({ kind, parts, ...actions }: { kind: PartKind; parts: Shelved[] } & Actions) {
  if (parts.length === 0) return null;
  return (
    <tbody>
      <tr>
        <th colSpan={8} className="px-2 pt-3 pb-1 text-left font-semibold">
          {PART_KIND_NAMES[kind]}
          {parts.length > 1 && kind !== "network-box" && "s"}
        </th>
      </tr>
      {parts.map((part) => (
        <Row key={part.id} part={part} {...actions} />
      ))}
    </tbody>
  );
}

function Row({ part, onEdit, onDuplicate, onRetire }: { part: Shelved } & Actions) {
  const { rate } = useRates();
  const action = (label: string, run: (part: Shelved) => void) => (
    <button
      type="button"
      className="underline"
      aria-label={`${label} ${part.name}`}
      onClick={() => run(part)}
    >
      {label}
    </button>
  );
  return (
    <tr className={part.retired ? "text-secondary [&>td:not(:last-child)]:line-through" : ""}>
      <td className={`${CELL} min-w-24 [overflow-wrap:anywhere]`}>
        <span className="font-medium">{part.name}</span>
        {part.tag && <span className="block text-[13px] text-secondary">{part.tag}</span>}
        {part.slower && (
          <Link
            className="block text-[13px] font-semibold hover:underline"
            href={`/parts/${part.id}#over-time`}
          >
            ⚠ {part.slower.replace(/-/g, "\u2011")}
          </Link>
        )}
      </td>
      <td className={`${CELL} min-w-28 [overflow-wrap:anywhere]`}>
        {[part.maker, part.model].filter(Boolean).join(", ")}
        {part.serial && (
          <span className="figure block text-[12px] text-secondary">{part.serial}</span>
        )}
      </td>
      <td className={CELL}>{[...new Set(part.connectors.map(connectorText))].join(" → ")}</td>
      <td className={FIGURE}>{pair(part.limits.read, part.limits.write, rate)}</td>
      <td className={CELL}>
        <Claims part={part} />
      </td>
      <td className={FIGURE}>
        {part.capacityBytes && (
          <>
            {formatCapacity(part.capacityBytes).label}
            <span className="block text-[12px] text-secondary">
              {formatCapacity(part.capacityBytes).counted}
            </span>
          </>
        )}
      </td>
      <td className={`${CELL} text-right whitespace-nowrap`}>
        <Price part={part} />
      </td>
      <td className={`${CELL} text-right whitespace-nowrap`}>
        <Link className="underline" href={`/parts/${part.id}`} data-compare={part.name}>
          Compare<span className="sr-only"> {part.name} in all its rigs</span>
        </Link>{" "}
        {action("Edit", onEdit)} {action("Duplicate", onDuplicate)}{" "}
        {action(part.retired ? "Put back" : "Retire", onRetire)}
      </td>
    </tr>
  );
}

function connectorText({ modes, shape }: Part["connectors"][number]): string {
  const best = bestMode(modes)?.name ?? "";
  return shape ? `${SHAPES[shape].name}: ${best}` : best;
}

function Claims({ part }: { part: Part }) {
  const rates = useRates();
  // Of several, printed for different links or requests, the most.
  const find = (kind: string, direction: string) =>
    part.claims
      .filter(isRateClaim)
      .filter((c) => c.kind === kind && c.direction === direction)
      .map(({ mbps }) => mbps)
      .toSorted((a, b) => b - a)[0];
  const iops = (direction: string) =>
    part.claims.filter((c) => c.kind === "iops").find((c) => c.direction === direction)?.iops;
  const link = part.claims.find(
    (claim): claim is Extract<Claim, { kind: "link" }> => claim.kind === "link",
  );
  const lines = [
    {
      text: pair(find("peak", "read"), find("peak", "write"), rates.rate),
      unit: `${rates.unit} peak`,
    },
    {
      text: pair(find("sustained", "read"), find("sustained", "write"), rates.rate),
      unit: `${rates.unit} sustained`,
    },
    { text: link ? formatNumber(link.gbps) : "", unit: "Gb/s link" },
    { text: pair(iops("read"), iops("write"), formatRate), unit: "IOPS" },
  ].filter(({ text }) => text);
  const impossible = part.claims.flatMap((claim) => impossibleClaim(part, claim, rates));
  return (
    <>
      {lines.map(({ text, unit }) => (
        <span key={unit} className="block whitespace-nowrap">
          <span className="figure">{text}</span> <span className="text-[13px]">{unit}</span>
        </span>
      ))}
      {impossible.length > 0 && (
        <Tip text={impossible.join(" ")}>
          <span className="block text-[13px] font-semibold" tabIndex={0}>
            ⚠ more than its link
          </span>
        </Tip>
      )}
    </>
  );
}

/** The price, and what it comes to for each TB and for each MB/s that was measured reading. */
function Price({ part: { price, capacityBytes, measured } }: { part: Shelved }) {
  if (!price) return null;
  const each = [
    capacityBytes && `${formatRate(price.amount / (capacityBytes / 1e12))} a TB`,
    measured &&
      `${formatNumber((100 * price.amount) / measured.mbps, 2)} for 100 MB/s ${measured.simulated ? "(simulated)" : "measured"}`,
  ].filter(Boolean);
  return (
    <>
      <span className="figure">
        {price.amount} {price.currency}
      </span>
      {each.map((line) => (
        <span key={line as string} className="block text-[12px] text-secondary">
          {line}
        </span>
      ))}
    </>
  );
}

function pair(
  read: number | undefined,
  write: number | undefined,
  written: (value: number) => string,
): string {
  if (read === undefined && write === undefined) return "";
  const show = (rate: number | undefined) => (rate === undefined ? "—" : written(rate));
  return `${show(read)} / ${show(write)}`;
}
