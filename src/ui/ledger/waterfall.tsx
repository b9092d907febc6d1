import type { LedgerAccount } from "@/core/ledger/account";
import { inUnit, type RateUnit } from "@/core/units/rate";
import { useRates } from "../frame/unit";
import type { Cell } from "../out/save";

/** What each step leaves of the signalling rate, as bars that shrink and figures beside them. */
export function Waterfall({ ledger, widest }: { ledger: LedgerAccount; widest: number }) {
  const { rate } = useRates();
  return (
    <ol>
      {ledger.rows.map((row, i) => {
        const before = ledger.rows[i - 1]?.mbps;
        const band = row.lowMbps !== undefined;
        return (
          <li key={i} className="border-t border-line py-1.5">
            <div className="flex items-baseline gap-3">
              <span className="w-20 shrink-0 text-[13px] text-secondary">{row.step}</span>
              <span className="min-w-0 grow text-sm">{row.what}</span>
              <span className="figure shrink-0 text-right whitespace-nowrap">
                {band && `${rate(row.lowMbps!)}–`}
                {rate(row.mbps)}
              </span>
            </div>
            <div className="relative mt-1 h-3 bg-bank" aria-hidden>
              {before !== undefined && (
                <div
                  className="absolute inset-y-0 left-0 border-r border-dashed border-secondary"
                  style={{ width: `${(100 * before) / widest}%` }}
                />
              )}
              <div
                className={`absolute inset-y-0 left-0 ${band ? "bg-flow/35" : "bg-flow"}`}
                style={{ width: `${(100 * row.mbps) / widest}%` }}
              />
              {band && (
                <div
                  className="absolute inset-y-0 left-0 bg-flow"
                  style={{ width: `${(100 * row.lowMbps!) / widest}%` }}
                />
              )}
            </div>
            <p className="text-[12px] text-secondary">
              {row.factor !== null && `× ${row.factor.toFixed(4)} · `}
              {row.basis}: {row.source}
            </p>
          </li>
        );
      })}
    </ol>
  );
}

/** An account as a table. */
export const accountRows = (ledger: LedgerAccount, unit: RateUnit): Cell[][] => [
  ["step", "what", "factor", `leaves, ${unit}`, `from, ${unit}`, "basis", "source"],
  ...ledger.rows.map(({ step, what, factor, mbps, lowMbps, basis, source }): Cell[] => [
    step,
    what,
    factor,
    Number(inUnit(mbps, unit).toPrecision(7)),
    lowMbps === undefined ? null : Number(inUnit(lowMbps, unit).toPrecision(7)),
    basis,
    source,
  ]),
];
