import type { LedgerAccount } from "@/core/ledger/account";
import { formatRate } from "@/core/units/number";

/** What each step leaves of the signalling rate, as bars that shrink and figures beside them. */
export function Waterfall({ ledger, widest }: { ledger: LedgerAccount; widest: number }) {
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
                {band && `${formatRate(row.lowMbps!)}–`}
                {formatRate(row.mbps)}
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
